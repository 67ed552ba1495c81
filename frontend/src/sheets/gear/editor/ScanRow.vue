<script setup lang="ts">
// One analogue signal a socket sends: what its figures come to, its sync and colour.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { api, ask } from '../../../api/client'
import type { GearWords, ScanPart } from './draft'

const props = defineProps<{ words: GearWords; plug: string; first: boolean }>()
const scan = defineModel<ScanPart>({ required: true })
const emit = defineEmits<{ remove: []; first: [] }>()
const { data, error } = useQuery({
  queryKey: computed(() => ['scan', JSON.stringify(scan.value)]),
  queryFn: () => ask(api.POST('/api/v1/gear/scan', { body: { text: '', scan: scan.value } })),
  retry: false,
  staleTime: Infinity,
})
// colour travels on a carrier only here; elsewhere it has wires of its own
const carries = computed(() => ['composite', 's_video'].includes(props.plug))
const rgb = computed(() => props.plug === 'scart')
function set(key: 'sync' | 'colour' | 'level', event: Event) {
  const value = (event.target as HTMLSelectElement).value
  const next = { ...scan.value }
  if (value) next[key] = value
  else Reflect.deleteProperty(next, key)
  scan.value = next
}
</script>

<template>
  <li>
    <span class="what">
      <b v-if="data">{{ data.name }}</b>
      <b v-else-if="error" class="attn">{{ error.message }}</b>
      <small v-if="data">
        dots at {{ data.dot_clock_mhz }} MHz · picture {{ data.active.replace('x', '×')
        }}<template v-if="data.pixel_aspect">, each dot {{ data.pixel_aspect }}</template>
      </small>
    </span>
    <select v-if="rgb" aria-label="Sync" :value="scan.sync ?? 'on_picture'" @change="set('sync', $event)">
      <option v-for="s in words.syncs" :key="s.id" :value="s.id">{{ s.name }}</option>
    </select>
    <select v-if="rgb" aria-label="Sync level" :value="scan.level ?? '75_ohm'" @change="set('level', $event)">
      <option v-for="l in words.levels" :key="l.id" :value="l.id">{{ l.name }}</option>
    </select>
    <select
      v-if="carries"
      aria-label="Colour system"
      :value="scan.colour ?? ''"
      @change="set('colour', $event)"
    >
      <option value="">colour not known</option>
      <option v-for="c in words.colours" :key="c.id" :value="c.id">{{ c.name }}</option>
    </select>
    <em v-if="first">the usual one</em>
    <button v-else class="slight" @click="emit('first')">
      Usual one<span class="sr"> is {{ data?.name }}</span>
    </button>
    <button class="slight" @click="emit('remove')">
      Take out<span class="sr"> {{ data?.name }}</span>
    </button>
  </li>
</template>

<style scoped>
li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
}
.what {
  flex: 1 1 260px;
  display: grid;
}
.what b {
  font-weight: 600;
}
small,
em {
  color: var(--ink-2);
  font-size: 13px;
  font-style: normal;
}
select {
  max-width: 210px;
}
.attn {
  color: var(--blocked);
}
</style>
