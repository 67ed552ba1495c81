<script setup lang="ts">
// Why the chosen run is as it is: the sentence, the sums, the ways to lift it, the want item by item.
import { computed } from 'vue'

import FixList from '../shared/FixList.vue'
import { useJob } from '../shared/job'
import SumLines from '../shared/SumLines.vue'
import VerdictIcon from '../shared/VerdictIcon.vue'

const job = useJob()
const run = computed(() => job.run)
const fullest = computed(() => {
  const links = [...(run.value?.links ?? [])]
  const stopped = links.find((l) => l.verdict === 'blocked')
  return stopped ?? links.sort((a, b) => (b.used_percent ?? 0) - (a.used_percent ?? 0))[0] ?? null
})
const sums = computed(() =>
  run.value?.limiting?.quantities.length ? run.value.limiting.quantities : (fullest.value?.quantities ?? []),
)
</script>

<template>
  <div v-if="run" class="why">
    <h2>{{ run.label }}, why</h2>
    <p class="verdict"><VerdictIcon :verdict="run.verdict" /> {{ run.headline }}</p>
    <p class="quiet small">{{ run.stages.map((s) => s.label).join(' → ') }}</p>
    <p v-if="run.limiting?.because" class="quiet small">
      {{ run.limiting.because }} ({{ run.limiting.provenance }}).
    </p>
    <FixList><SumLines :quantities="sums" /></FixList>
    <p v-if="fullest" class="src">{{ fullest.source }}</p>
  </div>
  <div v-else class="quiet">
    <b>No run yet.</b> A run joins one source to one screen: add it on Brief, or plug a source into a screen
    on Wiring.
  </div>
</template>

<style scoped>
.verdict {
  font-size: 16.5px;
  line-height: 1.3;
  font-weight: 640;
  margin: 6px 0 4px;
}
.src {
  font-size: 13px;
  color: var(--ink-3);
  margin-top: 10px;
}
</style>
