<script setup lang="ts">
// Overdrive: trails and seams seen with the moving edge, setting by rate; the one that suits the rates played.
import { ref } from 'vue'

import type { LightScreen } from '../../api/client'
import { mayEdit } from '../../shared/session'
import { usedLight } from './useLight'
import { noteOf, STRENGTHS } from './words'

const props = defineProps<{ light: LightScreen }>()
const { note } = usedLight()
const value = ref(props.light.overdrive.options[0]?.id ?? '')
const hz = ref(props.light.overdrive.rates[0] ?? 60)
const trail = ref(0)
const seam = ref(0)
function last(option: string, rate: number) {
  return props.light.overdrive.seen.findLast((s) => s.value === option && s.hz === rate)
}
function words(option: string, rate: number): string {
  const seen = last(option, rate)
  if (!seen) return '—'
  const parts = [
    Number(seen.trail) ? `${STRENGTHS[Number(seen.trail)]} trail` : '',
    Number(seen.seam) ? `${STRENGTHS[Number(seen.seam)]} seam` : '',
  ].filter(Boolean)
  return parts.join(', ') || 'clean'
}
const keep = () => {
  const figures = { hz: hz.value, trail: trail.value, seam: seam.value }
  const seen = noteOf('ghost', props.light.device, { value: value.value, figures, method: 'eye' })
  return note([seen], 'Noted.')
}
</script>

<template>
  <section v-if="light.overdrive.rates.length" aria-label="Overdrive">
    <h2>{{ light.overdrive.label }} at the rates played</h2>
    <p>{{ light.overdrive.said }}.</p>
    <table class="plain small">
      <thead>
        <tr>
          <th scope="col">{{ light.overdrive.label }}</th>
          <th v-for="r in light.overdrive.rates" :key="r" scope="col">{{ r }} Hz</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="o in light.overdrive.options"
          :key="o.id"
          :class="{ best: light.overdrive.best[0]?.value === o.id }"
        >
          <th scope="row">{{ o.label }}</th>
          <td v-for="r in light.overdrive.rates" :key="r">{{ words(o.id ?? '', r) }}</td>
        </tr>
      </tbody>
    </table>
    <form v-if="mayEdit()" class="row" @submit.prevent="keep">
      <select v-model="value" :aria-label="light.overdrive.label">
        <option v-for="o in light.overdrive.options" :key="o.id" :value="o.id">{{ o.label }}</option>
      </select>
      <select v-model.number="hz" aria-label="Rate">
        <option v-for="r in light.overdrive.rates" :key="r" :value="r">{{ r }} Hz</option>
      </select>
      <label class="row">
        dark trail
        <select v-model.number="trail" aria-label="Dark trail">
          <option v-for="(s, n) in STRENGTHS" :key="s" :value="n">{{ s }}</option>
        </select>
      </label>
      <label class="row">
        bright seam
        <select v-model.number="seam" aria-label="Bright seam">
          <option v-for="(s, n) in STRENGTHS" :key="s" :value="n">{{ s }}</option>
        </select>
      </label>
      <button class="slight">Note</button>
    </form>
    <p class="caution small">
      The moving edge (pattern “Moving edge”, by a code on Prove) changes with every frame, and black frames
      flicker: warn everybody first, <b>photosensitive epilepsy</b>; look away and stop if it troubles
      anybody.
    </p>
  </section>
</template>

<style scoped>
section {
  margin-bottom: 18px;
}
.row {
  flex-wrap: wrap;
  gap: 6px 10px;
  margin-top: 8px;
}
.best th,
.best td {
  background: var(--signal-soft);
}
.caution {
  border-left: 4px solid var(--tight);
  background: var(--tight-soft);
  padding: 5px 10px;
  margin: 8px 0;
}
</style>
