<script setup lang="ts">
// The multiplier table: what comes out at each multiple, what it is nearest to, whether a screen of the job takes it.
import { computed, ref } from 'vue'

import type { Retro } from '../../api/client'
import { mayEdit } from '../../shared/session'
import PickRow from '../../shared/PickRow.vue'
import { useJob } from '../../shared/job'

type Multiple = Retro['multiples'][number]
type Answer = Retro['screens'][number]['answers'][number]
const props = defineProps<{ multiples: Multiple[]; screens: Retro['screens'] }>()
const chosen = ref('')
const screen = computed(() => props.screens.find((s) => s.input === chosen.value) ?? props.screens[0])
const rows = computed(() =>
  props.multiples.flatMap((m, n) => {
    const a = screen.value?.answers[n]
    const same = props.multiples.filter((o) => o.times === m.times)
    return a ? [{ m, a, first: same[0] === m, span: same.length }] : []
  }),
)
const job = useJob()
const NAMES = { whole_line: 'whole lines', matched: 'matched to the dots' } as const
const plan = (m: Multiple) => void job.change(m.ops, `${m.times}× planned`)
function tried(m: Multiple, a: Answer, event: Event) {
  const said = (event.target as HTMLSelectElement).value
  const value = said === '' ? null : said === 'yes'
  void job.change([{ op: 'set_fact', ...a.fact, value }], `${m.times}× tried`)
}
</script>

<template>
  <PickRow
    v-if="screens.length > 1"
    label="Screen asked"
    :list="screens.map((s) => ({ id: s.input, name: s.screen }))"
    :on="[screen?.input ?? '']"
    @pick="chosen = $event"
  />
  <h2 v-if="screen">{{ screen.input }}: {{ screen.words }}</h2>
  <div class="wide">
    <table class="plain">
      <thead>
        <tr>
          <th>multiple</th>
          <th>comes out as</th>
          <th>will {{ screen?.input }} take it?</th>
          <th>its lines on the panel</th>
          <th>tried here</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ m, a, first, span } in rows" :key="`${m.times}${m.sampling}`" :class="{ now: m.set }">
          <td>
            <b>{{ m.times }}×</b> <small>{{ NAMES[m.sampling] }}</small>
            <small v-if="m.set" class="set">as set</small>
            <button
              v-else-if="m.ops.length && mayEdit()"
              class="slight"
              :aria-label="`Plan ${m.times}× ${NAMES[m.sampling]}`"
              @click="plan(m)"
            >
              Plan it
            </button>
          </td>
          <td class="out">
            <span class="fig">{{ m.active }}, {{ m.vertical_hz }} Hz</span>
            <small>
              clock {{ m.off_percent > 0 ? '+' : '' }}{{ m.off_percent }} % from {{ m.nearest_name }}’s;
              {{ m.tmds_gbps.toFixed(2) }} Gb/s
            </small>
            <small v-if="m.way">{{ m.way }}</small>
            <small>
              {{ m.line_khz.toFixed(2) }} kHz, {{ m.lines }} lines, {{ m.pixel_clock_mhz.toFixed(1) }} MHz
            </small>
          </td>
          <td :class="{ attn: a.answer === 'no' }">
            <b>{{ a.answer }}</b>
            <small>{{ a.why }}</small>
          </td>
          <td v-if="first" :rowspan="span">
            <small>{{ a.scale || 'panel not known' }}</small>
          </td>
          <td>
            <select
              :aria-label="`${m.times}× ${NAMES[m.sampling]} tried here`"
              :value="a.tried ? (a.answer === 'sure' ? 'yes' : 'no') : ''"
              :disabled="!mayEdit()"
              @change="tried(m, a, $event)"
            >
              <option value="">not tried</option>
              <option value="yes">a picture</option>
              <option value="no">no picture</option>
            </select>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}
.out {
  min-width: 250px;
}
h2 {
  font-size: 14.5px;
  color: var(--ink);
}
.now td:first-child {
  box-shadow: inset 3px 0 var(--signal);
}
td small.set {
  color: var(--signal);
  font-weight: 600;
}
/* a rowspan loses a line drawn below it */
table.plain td {
  border-top: 1px solid var(--rule);
  border-bottom: 0;
}
td small {
  display: block;
  color: var(--ink-2);
  font-weight: 400;
}
</style>
