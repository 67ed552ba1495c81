<script setup lang="ts">
// The plan of the session: which cells, in which order; what is taken, what comes next.
import { computed, ref } from 'vue'

import type { LagCell } from '../../api/client'
import { mayEdit } from '../../shared/session'
import { usedLag } from './useLag'

const props = defineProps<{ cell: LagCell }>()
const emit = defineEmits<{ pick: [cell: LagCell] }>()
const lag = usedLag()
const { session } = lag
const open = ref(false)
const modes = ref<string[]>([])
const places = ref<('top' | 'middle' | 'bottom')[]>([])
const signals = ref('')
const inputs = ref<string[]>([])
const count = ref(12)
const certainty = ref<number | ''>('')
const order = ref<'grouped' | 'random'>('grouped')
const PLACES = ['top', 'middle', 'bottom'] as const
const SECONDS = 60
const plan = computed(() => session.value?.plan ?? null)
const left = computed(() => Math.ceil((plan.value?.seconds_left ?? 0) / SECONDS))
const same = (c: LagCell) =>
  c.condition === props.cell.condition &&
  c.signal === props.cell.signal &&
  c.input === props.cell.input &&
  c.position === props.cell.position
async function make() {
  const wanted = {
    conditions: modes.value,
    positions: places.value,
    inputs: inputs.value,
    signals: signals.value.split(/[\s,]+/).filter(Boolean),
    count: count.value,
    certainty_ms: certainty.value === '' ? null : Number(certainty.value),
    order: order.value,
  }
  if (await lag.plan(wanted)) open.value = false
}
</script>

<template>
  <section class="plan" aria-label="Plan">
    <div v-if="plan" class="row">
      <h2>
        Plan, {{ plan.order }}:
        {{
          plan.next === null
            ? 'all taken'
            : `${plan.cells.filter((c) => c.taken < c.count).length} of ${plan.cells.length} to go, about ${left} min`
        }}
      </h2>
      <button
        v-for="(c, n) in plan.cells"
        :key="n"
        class="slight"
        :class="{ on: same(c), full: c.taken >= c.count }"
        :aria-pressed="same(c)"
        @click="
          emit('pick', { condition: c.condition, signal: c.signal, input: c.input, position: c.position })
        "
      >
        {{ c.name }} <span class="fig">{{ c.taken }}/{{ c.count }}</span>
      </button>
      <button v-if="mayEdit()" class="plain small" @click="lag.dropPlan">Drop the plan</button>
    </div>
    <button v-if="mayEdit() && !open && !plan" class="plain small" @click="open = true">
      Plan the session: several modes, signals, inputs, places in a fair order
    </button>
    <form v-if="open" class="row plate ask" @submit.prevent="make">
      <fieldset>
        <legend>modes</legend>
        <label v-for="c in session?.conditions" :key="c"
          ><input v-model="modes" type="checkbox" :value="c" /> {{ c }}</label
        >
      </fieldset>
      <fieldset>
        <legend>places</legend>
        <label v-for="p in PLACES" :key="p"
          ><input v-model="places" type="checkbox" :value="p" /> {{ p }}</label
        >
      </fieldset>
      <fieldset>
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
          <option value="grouped">grouped: spares re-syncs</option>
          <option value="random">random: spreads drift</option>
        </select>
      </span>
      <button type="submit" class="go" :disabled="!modes.length">Make the plan</button>
      <button type="button" class="plain" @click="open = false">Not now</button>
    </form>
  </section>
</template>

<style scoped>
.plan {
  margin-bottom: 6px;
}
.on {
  border-color: var(--signal);
  box-shadow: inset 0 -3px 0 var(--signal);
}
.full {
  color: var(--ink-2);
}
.ask {
  padding: 10px 12px;
  align-items: end;
}
fieldset {
  border: 0;
  padding: 0;
  display: flex;
  gap: 8px;
}
legend,
.ask label {
  font-size: 13px;
  color: var(--ink-2);
}
.ask span {
  display: grid;
}
#plan-count,
#plan-certainty {
  width: 80px;
}
</style>
