import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'

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
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8420' } },
  test: { environment: 'happy-dom', include: ['tests/**/*.test.ts'] },
}))
