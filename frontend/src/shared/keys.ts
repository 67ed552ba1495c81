// Single-key shortcuts: one registry, never while typing, can be switched off.
import { onBeforeUnmount, onMounted, ref } from 'vue'

export interface Shortcut {
  key: string
  does: string
  run: () => void
}

const STORE = 'wavilex.keys'
export const keysOn = ref(localStorage.getItem(STORE) !== 'off')
export const shortcuts = ref<Shortcut[]>([])

export function switchKeys(on: boolean) {
  keysOn.value = on
  localStorage.setItem(STORE, on ? 'on' : 'off')
}

function typing(target: EventTarget | null): boolean {
  const element = target instanceof HTMLElement ? target : null
  return !!element?.closest(
    'input:not([type=checkbox]), textarea, select, [contenteditable], [role=combobox], [role=listbox]',
  )
}

export function handleKey(event: KeyboardEvent) {
  const step = event.key.toLowerCase() === 'z' && (event.ctrlKey || event.metaKey) && !event.altKey
  if (typing(event.target)) return
  if (step) {
    fire(event.shiftKey ? 'Shift+U' : 'U', event)
    return
  }
  if (!keysOn.value || event.ctrlKey || event.metaKey || event.altKey) return
  const name = event.key.length === 1 ? event.key.toUpperCase() : event.key
  fire(event.shiftKey && /^[A-Z]$/.test(name) ? `Shift+${name}` : name, event)
}

function fire(key: string, event: KeyboardEvent) {
  // the latest registration wins: an open picker's digits come before the runs'
  const found = shortcuts.value.findLast((s) => s.key === key)
  if (!found || document.querySelector('[role=dialog][aria-modal=true]')) return
  event.preventDefault()
  found.run()
}

// Registers shortcuts for as long as the component is there.
export function useKeys(list: Shortcut[]) {
  onMounted(() => {
    shortcuts.value = [...shortcuts.value, ...list]
  })
  onBeforeUnmount(() => {
    shortcuts.value = shortcuts.value.filter((s) => !list.some((own) => own.run === s.run))
  })
}
