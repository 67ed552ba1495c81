import '@fontsource-variable/atkinson-hyperlegible-next/wght.css'
import '@fontsource/spline-sans-mono/latin-400.css'
import '@fontsource/spline-sans-mono/latin-600.css'
import './app/tokens.css'
import './app/base.css'

import { VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import PrimeVue from 'primevue/config'
import { createApp } from 'vue'

import App from './app/App.vue'
import { preset } from './app/preset'
import { router } from './app/router'
import { session } from './shared/session'
import { startTheme } from './shared/theme'
import { whenSignedOut } from './api/client'

startTheme()
whenSignedOut(() => {
  session.value = null
  void router.replace({ path: '/enter', query: { to: router.currentRoute.value.fullPath } })
})
const nonce = document.querySelector<HTMLScriptElement>('script[nonce]')?.nonce
createApp(App)
  .use(createPinia())
  .use(router)
  .use(VueQueryPlugin, {
    queryClientConfig: {
      defaultOptions: { queries: { staleTime: 60_000, retry: 1, refetchOnWindowFocus: false } },
    },
  })
  .use(PrimeVue, {
    csp: { nonce },
    theme: { preset, options: { darkModeSelector: "[data-theme='dark']" } },
  })
  .mount('#app')
