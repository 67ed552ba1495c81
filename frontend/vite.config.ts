import { readFileSync } from 'node:fs'

import vue from '@vitejs/plugin-vue'
import license from 'rollup-plugin-license'
import { defineConfig } from 'vitest/config'

// Fonts come in by their styles, which the plugin does not look into.
const FONTS = ['@fontsource-variable/atkinson-hyperlegible-next', '@fontsource/spline-sans-mono']
const fontNotice = (name: string) =>
  `${name}\n\n${readFileSync(`node_modules/${name}/LICENSE`, 'utf8').trim()}`

interface Shipped {
  name: string | null
  version: string | null
  license: string | null
  licenseText: string | null
  noticeText: string | null
}
const codeNotice = (d: Shipped) =>
  [`${d.name} ${d.version} (${d.license})`, d.licenseText?.trim(), d.noticeText?.trim()]
    .filter(Boolean)
    .join('\n\n')

// The notices of everything in the bundle; a licence that is not among these stops the build.
const notices = license({
  thirdParty: {
    allow: {
      test: '(MIT OR BSD-3-Clause OR Apache-2.0 OR ISC OR 0BSD)',
      failOnUnlicensed: true,
      failOnViolation: true,
    },
    output: {
      file: '../src/wavilex/server/web/licences.txt',
      template: (shipped) =>
        ['Wavilex ships the following, each under the licence that stands with it.']
          .concat(FONTS.map(fontNotice), shipped.map(codeNotice))
          .join(`\n\n${'-'.repeat(80)}\n\n`) + '\n',
    },
  },
})

// The page view puts the request's nonce in place of this mark, in builds only.
export default defineConfig(({ command }) => ({
  plugins: [vue()],
  base: command === 'build' ? '/static/' : '/',
  html: command === 'build' ? { cspNonce: '__CSP_NONCE__' } : {},
  build: {
    outDir: '../src/wavilex/server/web',
    emptyOutDir: true,
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 700,
    target: 'es2020', // the browsers of consoles are not the newest
    rollupOptions: { input: ['index.html', 'probe.html'], plugins: [notices] },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8420' } },
  test: { environment: 'happy-dom', include: ['tests/**/*.test.ts'] },
}))
