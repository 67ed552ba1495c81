// Light or dark: the system's until somebody chooses.
import { ref } from 'vue'

const KEY = 'wavilex.theme'
export const theme = ref<'light' | 'dark'>('light')

function show(value: 'light' | 'dark') {
  theme.value = value
  document.documentElement.dataset.theme = value
}

export function startTheme() {
  const system = window.matchMedia('(prefers-color-scheme: dark)')
  const kept = localStorage.getItem(KEY)
  show(kept === 'dark' || kept === 'light' ? kept : system.matches ? 'dark' : 'light')
  system.addEventListener('change', (e) => {
    if (!localStorage.getItem(KEY)) show(e.matches ? 'dark' : 'light')
  })
}

export function toggleTheme() {
  const next = theme.value === 'dark' ? 'light' : 'dark'
  localStorage.setItem(KEY, next)
  show(next)
}
