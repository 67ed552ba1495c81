import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'

const room = (files, regex, message, ignores = []) => ({
  files: [files],
  ignores,
  rules: {
    'no-restricted-imports': [
      'error',
      { patterns: [{ regex: regex.startsWith('\\') ? `^${regex}` : `^[./]+/${regex}`, message }] },
    ],
  },
})

export default ts.config(
  { ignores: ['node_modules/', 'src/api/schema.ts'] },
  ...ts.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: ts.parser } },
  },
  {
    rules: {
      // layout is prettier's business, not the linter's
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/html-self-closing': 'off',
      'vue/html-indent': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/attributes-order': 'off',
      // each sheet's root component is named by its file
      'vue/multi-word-component-names': 'off',
    },
  },
  // rooms, as in the core: api < shared < sheets and app; a sheet knows no other sheet
  room('src/api/**', '(app|shared|sheets)/', 'api knows nothing of the interface'),
  room('src/probe/**', '(api|app|shared|sheets)/', 'the probe stands alone: old browsers load it'),
  room('src/shared/**', '(app|sheets)/', 'shared knows neither app nor sheets'),
  room('src/app/**', 'sheets/', 'only the router loads sheets', ['src/app/router.ts']),
  room('src/sheets/*/*', '\\.\\./(?!\\.\\./)', 'a sheet imports only api, app, shared and its own'),
  room('src/sheets/*/*/*', '\\.\\./\\.\\./(?!\\.\\./)', 'a sheet imports only api, app, shared and its own'),
)
