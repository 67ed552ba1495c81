<script setup lang="ts">
// A range of scan rates an input takes: from and to, which kind, what it does with them, which sync and colour it reads.
import { computed } from 'vue'

import type { GearWords, TakesPart } from './draft'

const props = defineProps<{ words: GearWords; plug: string }>()
const range = defineModel<TakesPart>({ required: true })
const emit = defineEmits<{ remove: [] }>()
const kind = computed(() =>
  range.value.interlaced === undefined ? '' : range.value.interlaced ? 'interlaced' : 'progressive',
)
const lists = computed(() =>
  ['composite', 's_video'].includes(props.plug)
    ? ([['colours', 'Colour systems it knows', props.words.colours]] as const)
    : props.plug === 'scart'
      ? ([['syncs', 'Sync it reads', props.words.syncs]] as const)
      : [],
)
function bound(key: 'line_khz' | 'hz', at: 0 | 1, event: Event) {
  const value = Number((event.target as HTMLInputElement).value)
  if (!(value > 0)) return
  const pair: [number, number] = [...range.value[key]]
  pair[at] = value
  range.value = { ...range.value, [key]: pair }
}
function set(key: 'interlaced' | 'treats', value: boolean | string | undefined) {
  const next = { ...range.value, [key]: value }
  if (value === undefined) Reflect.deleteProperty(next, key)
  range.value = next
}
const setKind = (event: Event) => {
  const value = (event.target as HTMLSelectElement).value
  set('interlaced', value === '' ? undefined : value === 'interlaced')
}
// all ticked, or none ever ticked: left out, which is all of them, or not known
function tick(key: 'syncs' | 'colours', id: string, on: boolean) {
  const now = range.value[key] ?? []
  const chosen = on ? [...now, id] : now.filter((x) => x !== id)
  const next = { ...range.value, [key]: chosen }
  if (!chosen.length) Reflect.deleteProperty(next, key)
  range.value = next
}
</script>

<template>
  <div class="range">
    <span>
      <span class="label">Lines, kHz</span>
      <span class="pair">
        <input
          aria-label="kHz from"
          type="number"
          step="0.1"
          :value="range.line_khz[0]"
          @change="bound('line_khz', 0, $event)"
        />
        to
        <input
          aria-label="kHz to"
          type="number"
          step="0.1"
          :value="range.line_khz[1]"
          @change="bound('line_khz', 1, $event)"
        />
      </span>
    </span>
    <span>
      <span class="label">Pictures, Hz</span>
      <span class="pair">
        <input aria-label="Hz from" type="number" :value="range.hz[0]" @change="bound('hz', 0, $event)" />
        to
        <input aria-label="Hz to" type="number" :value="range.hz[1]" @change="bound('hz', 1, $event)" />
      </span>
    </span>
    <span>
      <span class="label">Kind</span>
      <select aria-label="Kind of scan" :value="kind" @change="setKind">
        <option value="">both kinds</option>
        <option value="interlaced">interlaced</option>
        <option value="progressive">progressive</option>
      </select>
    </span>
    <span>
      <span class="label">With it, it</span>
      <select
        aria-label="How it treats it"
        :value="range.treats ?? 'correct'"
        @change="set('treats', ($event.target as HTMLSelectElement).value)"
      >
        <option v-for="t in words.treatments" :key="t.id" :value="t.id">{{ t.name }}</option>
      </select>
    </span>
    <button class="slight" @click="emit('remove')">Take out</button>
    <fieldset v-for="[key, name, list] in lists" :key="key">
      <legend>{{ name }}{{ range[key] ? '' : key === 'syncs' ? ': all' : ': not known' }}</legend>
      <label v-for="o in list" :key="o.id" class="tick">
        <input
          type="checkbox"
          :checked="range[key]?.includes(o.id)"
          @change="tick(key, o.id, ($event.target as HTMLInputElement).checked)"
        />
        {{ o.name }}
      </label>
    </fieldset>
  </div>
</template>

<style scoped>
.range {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: end;
  padding: 6px 0 8px;
  border-bottom: 1px solid var(--rule);
}
.range > span {
  display: grid;
}
.label,
legend {
  font-size: 13px;
  color: var(--ink-2);
}
.pair {
  display: flex;
  gap: 6px;
  align-items: center;
}
.pair input {
  width: 78px;
}
fieldset {
  flex: 1 1 100%;
  border: 0;
  padding: 0;
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
}
.tick {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  font-size: 13px;
}
</style>
