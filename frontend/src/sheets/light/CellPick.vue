<script setup lang="ts">
// The cells of a screen as buttons: where, and what is known there.
import type { LightCell, LightScreen } from '../../api/client'
import { cd } from './words'

defineProps<{ light: LightScreen; cell: LightCell | null; only?: 'hdr' }>()
defineEmits<{ cell: [scope: string] }>()
function known(c: LightCell): string {
  const answered = c.answers.filter((a) => a.value !== null)
  if (answered.length) return answered.map((a) => `${a.value}: ${cd(a.light ?? 0)} cd/m²`).join(' · ')
  const most = Math.max(0, ...c.readings.filter((r) => !r.stale).map((r) => r.light))
  if (!c.readings.length) return 'not read'
  return c.hdr ? `peak ${cd(most)} cd/m²` : `${c.readings.length} read`
}
</script>

<template>
  <div class="cells" role="group" aria-label="Cells">
    <button
      v-for="c in light.cells.filter((x) => only !== 'hdr' || x.hdr)"
      :key="c.scope"
      :class="{ on: c.scope === cell?.scope }"
      :aria-pressed="c.scope === cell?.scope"
      @click="$emit('cell', c.scope)"
    >
      {{ c.name }}
      <small>{{ c.runs.join(', ') || 'no run' }} · {{ known(c) }}</small>
    </button>
  </div>
</template>

<style scoped>
.cells {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-bottom: 10px;
}
button {
  text-align: left;
  white-space: normal;
  max-width: 340px;
  font-weight: 500;
}
small {
  display: block;
  color: var(--ink-2);
  font-weight: 400;
}
.on {
  border-color: var(--signal);
  box-shadow: inset 4px 0 0 var(--signal);
  background: var(--signal-soft);
}
</style>
