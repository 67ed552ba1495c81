// The cell in hand: with a plan, its next one that lacks readings is chosen as soon as the one before is full.
import { computed, ref, watch } from 'vue'

import type { LagCell } from '../../api/client'
import { usedLag } from './useLag'

export function usePlanned() {
  const { session } = usedLag()
  const cell = ref<LagCell>({ condition: '', signal: '', input: '', position: '' })
  const plan = computed(() => session.value?.plan ?? null)
  const ofCell = (r: LagCell) =>
    (['condition', 'signal', 'input', 'position'] as const).every((k) => r[k] === cell.value[k])
  const missing = ref(0) // readings the chosen planned cell lacked when it was chosen
  watch(
    () => [session.value?.uid, plan.value?.next, plan.value?.cells.length] as const,
    () => {
      const next = plan.value?.next
      const planned = next == null ? null : plan.value?.cells[next]
      if (!planned) return
      const { condition, signal, input, position } = planned
      cell.value = { condition, signal, input, position }
      missing.value = planned.count - planned.taken
    },
    { immediate: true },
  )
  watch(
    session,
    (s) => {
      if (s && !s.conditions.includes(cell.value.condition))
        cell.value = { ...cell.value, condition: s.conditions[0] ?? '' }
    },
    { immediate: true },
  )
  // a planned cell waits until somebody says that it is set so
  const planned = computed(() => plan.value?.cells.findIndex((c) => ofCell(c)) ?? -1)
  const waits = computed(() => planned.value >= 0 && plan.value?.ready !== planned.value)
  return { cell, plan, ofCell, missing, planned, waits }
}
