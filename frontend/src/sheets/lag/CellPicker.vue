<script setup lang="ts">
// What the readings are of: the screen mode, and where they matter the signal, the input, the place on the glass.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { api, ask, type LagCell } from '../../api/client'
import { mayEdit } from '../../shared/session'
import StateForm from './StateForm.vue'
import { usedLag } from './useLag'

const cell = defineModel<LagCell>({ required: true })
const { session, meter, busy, addCondition } = usedLag()
const fresh = ref('')
const { data: about } = useQuery({
  queryKey: computed(() => ['signals', meter.value?.meter]),
  queryFn: () =>
    ask(api.GET('/api/v1/meters/{meter}/about', { params: { path: { meter: meter.value?.meter ?? '' } } })),
  enabled: computed(() => !!meter.value && !busy.value),
  staleTime: Infinity,
})
const POSITIONS = ['', 'top', 'middle', 'bottom'] as const
const PLACES = {
  top: 'on the patch at the top',
  middle: 'on the patch in the middle',
  bottom: 'on the patch at the bottom',
} as const
const CENTRES = { top: 5, middle: 10, bottom: 15 } as const
const setTo = computed(() => {
  const of = session.value?.report.conditions.find((c) => c.mode === cell.value.condition)
  return of?.set_to ?? ''
})
const saying = ref<string | null>(null) // the name of the condition a state is said of, '' of a new one
function said(condition: string) {
  if (condition) set({ condition })
  saying.value = null
}
const set = (change: Partial<LagCell>) => (cell.value = { ...cell.value, ...change })
const value = (event: Event) => (event.target as HTMLSelectElement).value
async function add() {
  const name = fresh.value.trim()
  if (name && (await addCondition(name))) {
    set({ condition: name })
    fresh.value = ''
  }
}
</script>

<template>
  <div class="row conditions" role="group" aria-label="Screen mode">
    <button
      v-for="c in session?.conditions"
      :key="c"
      :aria-pressed="c === cell.condition"
      :class="{ on: c === cell.condition }"
      @click="set({ condition: c })"
    >
      {{ c }}
    </button>
    <form v-if="mayEdit()" class="row" @submit.prevent="add">
      <label class="sr" for="new-condition">Another screen mode</label>
      <input id="new-condition" v-model="fresh" placeholder="another mode" maxlength="60" />
    </form>
  </div>
  <StateForm v-if="saying !== null" :name="saying" :input="cell.input" @done="said" />
  <p v-else class="small quiet">
    {{ setTo || `Only the name of “${cell.condition}” is known.` }}
    <template v-if="mayEdit()">
      <button v-if="!setTo" class="plain small" @click="saying = cell.condition">say what it sets</button>
      <button class="plain small" @click="saying = ''">another state</button>
    </template>
  </p>
  <div class="row more">
    <label for="cell-signal">signal</label>
    <select id="cell-signal" :value="cell.signal" @change="set({ signal: value($event) })">
      <option value="">as it is</option>
      <option v-for="s in about?.signals ?? []" :key="s" :value="s">{{ s }}</option>
    </select>
    <label for="cell-input">input</label>
    <select id="cell-input" :value="cell.input" @change="set({ input: value($event) })">
      <option value="">as it is</option>
      <option v-for="i in session?.inputs" :key="i" :value="i">{{ i }}</option>
    </select>
    <label for="cell-position">place</label>
    <select
      id="cell-position"
      :value="cell.position"
      @change="set({ position: value($event) as LagCell['position'] })"
    >
      <option v-for="p in POSITIONS" :key="p" :value="p">{{ p || 'not said' }}</option>
    </select>
    <svg
      v-if="cell.position"
      class="place"
      viewBox="0 0 32 20"
      role="img"
      :aria-label="`Sensor ${PLACES[cell.position]}`"
    >
      <rect x="1" y="1" width="30" height="18" />
      <circle cx="16" :cy="CENTRES[cell.position]" r="3.4" />
    </svg>
    <span v-if="cell.position" class="small quiet">{{ PLACES[cell.position] }}</span>
    <span v-if="about?.name" class="small quiet">{{ about.name }} answers</span>
  </div>
</template>

<style scoped>
.conditions button.on {
  background: var(--ink);
  color: var(--paper);
  border-color: var(--ink);
}
#new-condition {
  width: 130px;
}
.more {
  margin-top: 8px;
}
.place {
  height: 24px;
  fill: none;
  stroke: var(--ink-2);
  stroke-width: 1.4;
}
.place circle {
  fill: var(--signal);
  stroke: none;
}
</style>
