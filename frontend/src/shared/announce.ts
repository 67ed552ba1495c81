// Messages: one polite live region for verdicts, one bar for what went wrong.
import { ref } from 'vue'

export const spoken = ref('')
export const notice = ref<{ text: string; bad: boolean; undo: boolean } | null>(null)
let clearing = 0

export function say(text: string) {
  spoken.value = text
}

export function tell(text: string, options: { bad?: boolean; undo?: boolean } = {}) {
  notice.value = { text, bad: options.bad ?? false, undo: options.undo ?? false }
  window.clearTimeout(clearing)
  if (!options.bad) clearing = window.setTimeout(() => (notice.value = null), 6000)
}
