<script setup lang="ts">
// The multiplier table: what comes out at each multiple, what it is nearest to, whether the screen takes it.
import type { Retro } from '../../api/client'
import { mayEdit } from '../../app/session'
import { useJob } from '../../shared/job'

type Multiple = Retro['multiples'][number]
defineProps<{ multiples: Multiple[] }>()
const job = useJob()
const NAMES = { whole_line: 'whole lines', matched: 'matched to the dots' } as const
function tried(m: Multiple, event: Event) {
  const said = (event.target as HTMLSelectElement).value
  const value = said === '' ? null : said === 'yes'
  void job.change([{ op: 'set_fact', ...m.fact, value }], `${m.times}× tried`)
}
</script>

<template>
  <div class="wide">
    <table class="plain">
      <thead>
        <tr>
          <th>multiple</th>
          <th>comes out as</th>
          <th>nearest standard</th>
          <th>does the screen take it?</th>
          <th>tried here</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="m in multiples" :key="`${m.times}${m.sampling}`">
          <td>
            <b>{{ m.times }}×</b> <small>{{ NAMES[m.sampling] }}</small>
          </td>
          <td class="fig">
            {{ m.active }}, {{ m.vertical_hz }} Hz
            <small>{{ m.line_khz }} kHz, {{ m.lines }} lines, {{ m.pixel_clock_mhz }} MHz</small>
          </td>
          <td>
            {{ m.nearest_name }}
            <small class="fig">{{ m.off_percent > 0 ? '+' : '' }}{{ m.off_percent }} %</small>
          </td>
          <td :class="{ attn: m.answer === 'no' }">
            <b>{{ m.answer }}</b>
            <small>{{ m.why }}</small>
          </td>
          <td>
            <select
              :aria-label="`${m.times}× ${NAMES[m.sampling]} tried here`"
              :value="m.tried ? (m.answer === 'sure' ? 'yes' : 'no') : ''"
              :disabled="!mayEdit()"
              @change="tried(m, $event)"
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
td small {
  display: block;
  color: var(--ink-2);
  font-weight: 400;
}
</style>
