<script setup lang="ts">
// Near black, and the colour of white.
import { computed } from 'vue'

import type { LightCell, LightScreen } from '../../api/client'
import FigureChart from '../../shared/FigureChart.vue'
import { mayEdit } from '../../shared/session'
import CellPick from './CellPick.vue'
import { whitePlot } from './curves'
import MeterBox from './MeterBox.vue'
import { usedLight } from './useLight'
import { noteOf } from './words'

const props = defineProps<{ light: LightScreen; cell: LightCell | null }>()
const emit = defineEmits<{ cell: [scope: string] }>()
const { note } = usedLight()
const STEPS = [0, 1, 2, 3, 4, 5, 6, 8, 10, 12, 16, 20]
const plot = computed(() =>
  props.cell?.whites.length ? whitePlot(props.cell.whites, props.light.locus) : null,
)
const seen = (step: number) => {
  const more = { scope: props.cell?.scope ?? '', figures: { first_step: step }, method: 'eye' as const }
  return note([noteOf('near_black', props.light.device, more)], `Noted: step ${step} is the first seen.`)
}
</script>

<template>
  <CellPick :light="light" :cell="cell" @cell="emit('cell', $event)" />
  <template v-if="cell">
    <section aria-label="Near black">
      <h2>Near black</h2>
      <p>{{ cell.near_black.said }}</p>
      <p class="small quiet">
        Open the pattern “Near black” on the source (Prove, a code for the run), in the light it is used in.
        Steps count from black in 255ths.
      </p>
      <div v-if="mayEdit()" class="row steps" role="group" aria-label="First step seen">
        <button
          v-for="s in STEPS"
          :key="s"
          :aria-pressed="cell.near_black.first_step === s"
          :class="{ on: cell.near_black.first_step === s }"
          @click="seen(s)"
        >
          {{ s }}
        </button>
      </div>
      <ol v-if="cell.near_black.controls.length" class="small">
        <li v-for="c in cell.near_black.controls" :key="c.do">
          <b>{{ c.do }}</b>: {{ c.elsewhere }}
        </li>
      </ol>
    </section>
    <section aria-label="Colour of white">
      <h2>Colour of white</h2>
      <p>{{ cell.white_said }}</p>
      <FigureChart
        v-if="plot"
        :option="plot"
        :height="300"
        label="Measured whites beside the daylight locus"
      />
      <table v-if="cell.whites.length" class="plain small">
        <thead>
          <tr>
            <th scope="col">Colour temperature</th>
            <th scope="col">x, y</th>
            <th scope="col">Nearest temperature</th>
            <th scope="col">From the daylight locus, Δu′v′</th>
            <th scope="col">ΔE 2000 to D65</th>
            <th scope="col">It is</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="w in cell.whites" :key="w.warmth + w.at">
            <td>{{ w.warmth || 'as it stood' }}</td>
            <td class="fig">{{ w.x.toFixed(4) }}, {{ w.y.toFixed(4) }}</td>
            <td class="fig">{{ w.kelvin === null ? 'none says it' : `${w.kelvin} K` }}</td>
            <td class="fig">{{ w.duv >= 0 ? '+' : '−' }}{{ Math.abs(w.duv).toFixed(4) }}</td>
            <td class="fig">{{ w.delta_e.toFixed(1) }}</td>
            <td>{{ w.lean }}</td>
          </tr>
        </tbody>
      </table>
      <p class="small quiet">White balance is this unit’s own: it is never copied to a sister.</p>
    </section>
    <MeterBox :light="light" :cell="cell" :next="null" />
  </template>
</template>

<style scoped>
section {
  margin-bottom: 16px;
}
.steps {
  flex-wrap: wrap;
  gap: 5px;
  margin: 6px 0;
}
.steps button {
  min-width: 44px;
}
.on {
  border-color: var(--signal);
  background: var(--signal-soft);
}
</style>
