<script setup lang="ts">
// One value: a list of options or a number to type, in the layer that is typed; the other layer beside it.
import type { GridCell, GridRow } from '../../api/client'

const props = defineProps<{
  row: GridRow
  cell: GridCell
  layer: 'plan' | 'found'
  name: string
  disabled?: boolean
}>()
const emit = defineEmits<{ set: [value: string | null, words: string] }>()
const wordsOf = (value: string) => props.row.options.find((o) => o.id === value)?.label ?? value
function took(event: Event) {
  const value = (event.target as HTMLInputElement | HTMLSelectElement).value.trim()
  emit('set', value || null, value && wordsOf(value))
}
const none = () =>
  props.layer === 'found'
    ? 'not seen'
    : props.cell.found !== null
      ? 'as found'
      : `factory: ${props.row.default}`
const other = () => {
  if (props.layer === 'found') return props.cell.plan !== null ? `to be ${wordsOf(props.cell.plan)}` : ''
  return props.cell.found !== null
    ? `found ${wordsOf(props.cell.found)}`
    : props.cell.plan !== null
      ? 'not seen'
      : ''
}
</script>

<template>
  <span class="value">
    <input
      v-if="row.number"
      :key="`${layer}${cell[layer]}`"
      class="fig"
      inputmode="decimal"
      :value="cell[layer] ?? ''"
      :placeholder="none()"
      :aria-label="`${name}, ${layer === 'plan' ? 'to be set' : 'seen there'}`"
      :title="`${row.number.words}${row.number.neutral === null ? '' : `; neutral at ${row.number.neutral}`}`"
      :class="{ differs: layer === 'plan' && cell.change }"
      :disabled="disabled"
      maxlength="12"
      @change="took"
    />
    <select
      v-else
      :value="cell[layer] ?? ''"
      :aria-label="`${name}, ${layer === 'plan' ? 'to be set' : 'seen there'}`"
      :class="{ differs: layer === 'plan' && cell.change }"
      :disabled="disabled"
      @change="took"
    >
      <option value="">{{ none() }}</option>
      <option v-for="o in row.options" :key="o.id" :value="o.id">{{ o.label }}</option>
    </select>
    <small v-if="other()">{{ other() }}</small>
    <small v-if="cell.standing" class="held" :title="cell.because">{{
      { greyed: 'greyed out here', forced: 'set by the box', inert: 'does nothing here', cycle: 'unsettled' }[
        cell.standing
      ]
    }}</small>
  </span>
</template>

<style scoped>
.value {
  display: inline-grid;
  gap: 1px;
}
input {
  width: 118px;
  min-height: 30px;
}
select {
  max-width: 170px;
  min-height: 30px;
}
small {
  color: var(--ink-2);
  font-size: 12px;
}
.held {
  border-left: 3px solid var(--tight);
  padding-left: 5px;
}
.differs {
  border-color: var(--signal);
  background: var(--signal-soft);
  font-weight: 600;
}
</style>
