// How long the page took from an edit to the picture of its answer: measured here, shown on the tape.
import { ref } from 'vue'

export const repaintMs = ref<number | null>(null)
const NAME = 'repaint'

// Call when the answer is in place: the next frame but one has it on the glass.
export function painted(since: number) {
  requestAnimationFrame(() =>
    requestAnimationFrame(() => {
      performance.measure(NAME, { start: since, end: performance.now() })
      const entries = performance.getEntriesByName(NAME)
      repaintMs.value = entries[entries.length - 1]?.duration ?? null
    }),
  )
}
