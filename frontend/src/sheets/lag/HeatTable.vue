<script setup lang="ts">
// Lag by signal and mode as a table that darkens with it: rows signals, columns modes, an input each where several were
// measured. Interlaced and low-resolution signals are marked: screens often hold them back.
import { computed } from 'vue'

import type { LagSession } from '../../api/client'

const props = defineProps<{ report: LagSession['report'] }>()
const MOST_PERCENT = 38

const taken = computed(() =>
  props.report.conditions.flatMap((c) =>
    c.summary && ['', 'middle'].includes(c.position) ? [{ ...c, summary: c.summary }] : [],
  ),
)
const way = (c: { methods: string[] }) => c.methods.join(', ')
const columns = computed(() => {
  const apart = new Set(taken.value.map((c) => c.input)).size > 1
  const ways = new Set(taken.value.map(way)).size > 1
  const all = taken.value.map((c) => ({
    mode: c.mode,
    input: c.input,
    way: way(c),
    name: [c.mode, apart && (c.input || 'input not said'), ways && way(c)].filter(Boolean).join(', '),
  }))
  return [...new Map(all.map((c) => [c.name, c])).values()]
})
const rows = computed(() => [...new Set(taken.value.map((c) => c.signal))])
// a signal as the bench names it: the last word of its cell's name, before the place
function named(signal: string): string {
  const cell = taken.value.find((c) => c.signal === signal)
  return (signal && cell?.condition.split(', ').at(cell.position ? -2 : -1)) || 'as it was'
}
const most = computed(() => Math.max(...taken.value.map((c) => c.summary.lag_ms), 1))
const rowOf = (signal: string) =>
  columns.value.map((of) => ({
    name: of.name,
    summary: taken.value.find(
      (c) => c.signal === signal && c.mode === of.mode && c.input === of.input && way(c) === of.way,
    )?.summary,
  }))
const heat = (ms: number) =>
  `color-mix(in srgb, var(--signal) ${Math.round((MOST_PERCENT * ms) / most.value)}%, transparent)`
const mark = (signal: string) => taken.value.find((c) => c.signal === signal)?.kind ?? ''
</script>

<template>
  <table v-if="rows.length > 1 && columns.length > 1" class="plain heat">
    <caption>
      Lag in ms by signal and mode, at mid-screen or where no place was said; darker is later
    </caption>
    <thead>
      <tr>
        <th>signal</th>
        <th v-for="c in columns" :key="c.name">{{ c.name }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="s in rows" :key="s">
        <th>
          {{ named(s) }} <small v-if="mark(s)" class="quiet">{{ mark(s) }}</small>
        </th>
        <td
          v-for="x in rowOf(s)"
          :key="x.name"
          class="fig"
          :style="x.summary ? { background: heat(x.summary.lag_ms) } : {}"
        >
          <template v-if="x.summary">
            <b>{{ x.summary.lag_ms.toFixed(1) }}</b>
            <small>
              of {{ x.summary.n
              }}<template v-if="x.summary.ci_low_ms !== null"
                >, {{ x.summary.ci_low_ms.toFixed(1) }} to {{ x.summary.ci_high_ms?.toFixed(1) }}</template
              >
            </small>
          </template>
          <span v-else class="quiet">not taken</span>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.heat {
  margin-top: 14px;
}
caption {
  text-align: left;
  font-weight: 600;
  padding-bottom: 4px;
}
tbody th {
  text-align: left;
  white-space: nowrap;
}
td small {
  margin-left: 6px;
}
</style>
