<script setup lang="ts">
// What each setting costs against a baseline, and whether that is a change at all.
import { computed, defineAsyncComponent } from 'vue'

import LazyField from '../../shared/LazyField.vue'
import { mayEdit } from '../../shared/session'
import { signedMs } from '../../shared/words'
import { tornado } from './figures'
import CostTable from './CostTable.vue'
import HeatTable from './HeatTable.vue'
import { usedLag } from './useLag'

const FigureChart = defineAsyncComponent(() => import('../../shared/FigureChart.vue'))
const lag = usedLag()
const { session } = lag
const report = computed(() => session.value?.report ?? null)
const taken = computed(() => report.value?.conditions.filter((c) => c.summary) ?? [])
const figure = computed(() =>
  report.value?.costs.length ? tornado(report.value, session.value?.equivalence_ms ?? 2) : null,
)
const ROW_PX = 30
const hold = (change: Parameters<typeof lag.holdAgainst>[0]) => void lag.holdAgainst(change)
const value = (event: Event) => (event.target as HTMLSelectElement).value
const number = (text: string) => Number(text.replace(',', '.'))
const times = (r: number | null) => (r === null ? '–' : `${r.toFixed(2)}×`)
</script>

<template>
  <section v-if="session && report" aria-label="What it costs">
    <p class="row">
      <label for="baseline">held against</label>
      <select
        id="baseline"
        :value="report.baseline"
        :disabled="!mayEdit()"
        @change="hold({ baseline: value($event) })"
      >
        <option v-for="c in taken" :key="c.condition" :value="c.condition">{{ c.condition }}</option>
      </select>
      <label for="within">no practical change within ±</label>
      <LazyField
        id="within"
        class="short"
        inputmode="decimal"
        :value="session.equivalence_ms"
        :disabled="!mayEdit()"
        @say="hold({ equivalence_ms: number($event) })"
      />
      <span class="small">ms</span>
      <label for="bound">the client’s own bound</label>
      <LazyField
        id="bound"
        class="short"
        inputmode="numeric"
        :value="session.bound_ms"
        :placeholder="String(report.bound_ms)"
        :disabled="!mayEdit()"
        @say="hold({ bound_ms: $event.trim() ? Math.round(number($event)) : null })"
      />
      <span class="small">ms</span>
    </p>
    <ul class="bounds small quiet" aria-label="What lag may be, and for whom">
      <li v-for="b in report.bounds" :key="b.what_for">
        <span class="fig">{{ b.ms }} ms</span>: {{ b.what_for }} ({{ b.source }})
      </li>
    </ul>
    <CostTable />
    <p v-if="!report.costs.length" class="empty">
      <b>Nothing to compare yet.</b> Take six readings or more in two modes, signals or settings: each other
      one is then held against the one chosen here.
    </p>
    <template v-else>
      <FigureChart
        v-if="figure"
        :option="figure"
        :label="report.costs.map((c) => c.sentence).join('; ')"
        :height="66 + ROW_PX * report.costs.length"
      />
      <table class="plain">
        <thead>
          <tr>
            <th>against {{ report.baseline }}</th>
            <th>costs</th>
            <th>decided</th>
            <th>as a multiple</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in report.costs" :key="c.condition">
            <td>
              <b>{{ c.condition }}</b>
            </td>
            <td class="fig">
              {{ signedMs(c.ms) }} ms
              <small v-if="c.ci_low_ms !== null"
                >{{ signedMs(c.ci_low_ms) }} to {{ signedMs(c.ci_high_ms) }}</small
              >
            </td>
            <td>
              <b>{{ c.decided }}</b>
              <small>{{ c.because }}</small>
            </td>
            <td class="fig">
              {{ times(c.ratio) }}
              <small v-if="c.ratio_low !== null">{{ times(c.ratio_low) }} to {{ times(c.ratio_high) }}</small>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="small quiet">{{ report.costs_footing }}</p>
    </template>
    <HeatTable :report="report" />
  </section>
</template>

<style scoped>
.bounds {
  margin: 4px 0 10px;
  padding-left: 18px;
}
.short {
  width: 60px;
}
td small {
  display: block;
  color: var(--ink-2);
  font-weight: 400;
}
</style>
