<script setup lang="ts">
// What to measure: each setting against a baseline, a table of conditions, or the screen before and after.
import { computed, reactive, ref, watch } from 'vue'

import type { PlanIn } from '../../api/client'
import BaselineForm from './BaselineForm.vue'
import { usedLag } from './useLag'

const emit = defineEmits<{ done: [] }>()
const lag = usedLag()
const { session } = lag
type Kind = PlanIn['kind']
const KINDS: [Kind, string][] = [
  ['settings', 'What each setting costs'],
  ['table', 'A table'],
  ['before_after', 'Before and after'],
]
const PLACES = ['top', 'middle', 'bottom'] as const
const kind = ref<Kind>('settings')
const modes = ref<string[]>([])
const places = ref<('top' | 'middle' | 'bottom')[]>([])
const signals = ref('')
const inputs = ref<string[]>([])
const input = ref('')
const count = ref(12)
const certainty = ref<number | ''>('')
const order = ref<'grouped' | 'random'>('grouped')
const tried = reactive<Pick<PlanIn, 'baseline' | 'each'>>({ baseline: {}, each: [] })

watch(kind, () => (places.value = []))
const cells = computed(() => {
  const of = (n: number) => Math.max(1, n)
  const words = signals.value.split(/[\s,]+/).filter(Boolean)
  const conditions =
    kind.value === 'settings' ? 1 + tried.each.length : kind.value === 'table' ? modes.value.length : 2
  const at = kind.value === 'table' ? of(inputs.value.length) : 1
  return conditions * of(words.length) * at * of(places.value.length)
})
const ready = computed(() =>
  kind.value === 'settings' ? tried.each.length > 0 : kind.value === 'table' ? modes.value.length > 0 : true,
)
async function make() {
  const wanted: PlanIn = {
    kind: kind.value,
    conditions: kind.value === 'table' ? modes.value : [],
    baseline: tried.baseline,
    each: tried.each,
    positions: places.value,
    inputs: kind.value === 'table' ? inputs.value : input.value ? [input.value] : [],
    signals: signals.value.split(/[\s,]+/).filter(Boolean),
    count: count.value,
    certainty_ms: certainty.value === '' ? null : Number(certainty.value),
    order: order.value,
  }
  if (await lag.plan(wanted)) emit('done')
}
</script>

<template>
  <form class="plate ask" @submit.prevent="make">
    <div class="row kinds" role="group" aria-label="What to measure">
      <button
        v-for="[id, name] in KINDS"
        :key="id"
        type="button"
        :class="{ on: kind === id }"
        :aria-pressed="kind === id"
        @click="kind = id"
      >
        {{ name }}
      </button>
    </div>
    <div v-if="kind !== 'table'" class="row">
      <label for="plan-input">measured at</label>
      <select id="plan-input" v-model="input">
        <option value="">the input of its run</option>
        <option v-for="i in session?.inputs" :key="i" :value="i">{{ i }}</option>
      </select>
    </div>
    <BaselineForm v-if="kind === 'settings'" :input="input" @change="Object.assign(tried, $event)" />
    <p v-else-if="kind === 'before_after'" class="small">
      The screen as it was found against the screen as it is planned: every setting that costs time and of
      which both is known. Measure “as found” before anything is set.
    </p>
    <div class="row">
      <fieldset v-if="kind === 'table'">
        <legend>modes</legend>
        <label v-for="c in session?.conditions" :key="c"
          ><input v-model="modes" type="checkbox" :value="c" /> {{ c }}</label
        >
      </fieldset>
      <fieldset v-if="kind === 'table'">
        <legend>places</legend>
        <label v-for="p in PLACES" :key="p"
          ><input v-model="places" type="checkbox" :value="p" /> {{ p }}</label
        >
      </fieldset>
      <fieldset v-if="kind === 'table'">
        <legend>inputs</legend>
        <label v-for="i in session?.inputs" :key="i"
          ><input v-model="inputs" type="checkbox" :value="i" /> {{ i }}</label
        >
      </fieldset>
      <span>
        <label for="plan-signals">signals, with commas</label>
        <input id="plan-signals" v-model="signals" placeholder="1920x1080@60, 1280x720@60" />
      </span>
      <span>
        <label for="plan-count">readings of each</label>
        <input id="plan-count" v-model.number="count" type="number" min="1" max="200" />
      </span>
      <span>
        <label for="plan-certainty">or for ± ms</label>
        <input
          id="plan-certainty"
          v-model.number="certainty"
          type="number"
          min="0.1"
          step="0.1"
          placeholder="1"
        />
      </span>
      <span>
        <label for="plan-order">order</label>
        <select id="plan-order" v-model="order">
          <option value="grouped">what is slow to change, seldom</option>
          <option value="random">random: spreads drift</option>
        </select>
      </span>
      <button type="submit" class="go" :disabled="!ready">
        Make the plan<template v-if="ready">, {{ cells }} {{ cells === 1 ? 'cell' : 'cells' }}</template>
      </button>
      <button type="button" class="plain" @click="emit('done')">Not now</button>
    </div>
  </form>
</template>

<style scoped>
.ask {
  padding: 10px 14px;
  display: grid;
  gap: 10px;
}
.kinds button.on {
  background: var(--ink);
  color: var(--paper);
  border-color: var(--ink);
}
.row {
  align-items: end;
}
fieldset {
  border: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
legend,
.ask label {
  font-size: 13px;
  color: var(--ink-2);
}
fieldset label {
  display: inline-flex;
  align-items: center;
  gap: 5px;
}
.ask span {
  display: grid;
}
#plan-count,
#plan-certainty {
  width: 80px;
}
</style>
