<script setup lang="ts">
// What part of a reading is scan-out, how the light comes on, how kinds of signal are handled.
import { computed } from 'vue'

import { mayEdit } from '../../shared/session'
import { ms, sentence } from '../../shared/words'
import { usedLag } from './useLag'

const lag = usedLag()
const { session } = lag
const report = computed(() => session.value?.report ?? null)
const apart = computed(() => report.value?.conditions.filter((c) => c.parts) ?? [])
const LIGHT = {
  rolling: 'rolling',
  at_once: 'all at once',
  strobed: 'strobed',
  reversed: 'reversed',
  between: 'no telling',
} as const
const strobes = (event: Event) =>
  void lag.holdAgainst({ strobes: (event.target as HTMLInputElement).checked })
</script>

<template>
  <section v-if="session && report" aria-label="Light and signals">
    <h2>Top to bottom</h2>
    <table v-if="report.places.length" class="plain">
      <thead>
        <tr>
          <th>condition</th>
          <th>later at the bottom by</th>
          <th>a line-by-line screen would</th>
          <th>light</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="p in report.places" :key="p.condition">
          <td>
            <b>{{ p.condition }}</b>
          </td>
          <td class="fig">{{ ms(p.measured_ms) }}</td>
          <td class="fig">{{ ms(p.expected_ms) }}</td>
          <td>
            <b>{{ LIGHT[p.kind] }}</b> <small>{{ p.words }}</small>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else class="quiet">
      Take readings of one signal at the top and the bottom of the glass: their difference tells how the light
      comes on.
    </p>
    <label class="row small strobes">
      <input type="checkbox" :checked="session.strobes" :disabled="!mayEdit()" @change="strobes" />
      black frames or a flashing light are on
    </label>
    <h2>Kinds of signal</h2>
    <ul v-if="report.handling.length">
      <li v-for="(h, n) in report.handling" :key="n">
        <b>{{ h.condition }}:</b> {{ h.words }}.
      </li>
    </ul>
    <p v-else class="quiet">
      Take readings of a progressive and an interlaced signal, and of one with under 400 lines, in the same
      mode: what the screen does with each shows in its lag.
    </p>
    <h2>Readings taken apart</h2>
    <table v-if="apart.length" class="plain">
      <thead>
        <tr>
          <th>condition</th>
          <th>lag</th>
          <th>scan-out to there</th>
          <th>left for processing</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="c in apart" :key="c.condition">
          <td>
            <b>{{ c.condition }}</b>
          </td>
          <td class="fig">{{ ms(c.summary?.lag_ms) }}</td>
          <td class="fig">{{ ms(c.parts?.scan_ms) }}</td>
          <td class="fig">{{ ms(c.parts?.processing_ms) }}</td>
          <td class="small">{{ sentence(c.parts?.words ?? '') }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else class="quiet">Say the signal with the readings: its lines give the scan-out part.</p>
  </section>
</template>

<style scoped>
h2 {
  font-size: 14.5px;
  color: var(--ink);
  margin: 10px 0 4px;
}
h2:first-child {
  margin-top: 0;
}
td small {
  display: block;
  color: var(--ink-2);
}
.strobes {
  margin-top: 6px;
}
ul {
  padding-left: 18px;
}
</style>
