<script setup lang="ts">
// Settings over time: what each render rate looks like on the chosen run, what screens store apart.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { api, ask } from '../../api/client'
import { useJob } from '../../shared/job'
import CoverageTable from './CoverageTable.vue'
import RefreshPlot from './RefreshPlot.vue'
import TitlePlans from './TitlePlans.vue'

const job = useJob()
const run = computed(() => job.run)
const path = computed(() => ({ job_uid: job.view?.uid ?? '', run_uid: run.value?.uid ?? '' }))
const joined = computed(() => run.value?.links.some((l) => l.transport !== null) ?? false)
const { data: refresh, error } = useQuery({
  queryKey: computed(() => ['refresh', job.view?.uid, job.view?.revision, run.value?.uid]),
  queryFn: () =>
    ask(api.GET('/api/v1/jobs/{job_uid}/runs/{run_uid}/refresh', { params: { path: path.value } })),
  enabled: joined,
  placeholderData: (old) => old,
})
const { data: coverage } = useQuery({
  queryKey: computed(() => ['coverage', job.view?.uid, job.view?.revision]),
  queryFn: () =>
    ask(api.GET('/api/v1/jobs/{job_uid}/coverage', { params: { path: { job_uid: job.view?.uid ?? '' } } })),
  placeholderData: (old) => old,
})
</script>

<template>
  <h1>Settings</h1>
  <p>What the chosen run looks like at every render rate, and what screens store apart.</p>
  <section aria-label="Refresh">
    <h2>Refresh: {{ run?.label ?? 'no run yet' }}</h2>
    <p v-if="!joined" class="empty">
      <b>No digital path.</b> Plug the run in on <RouterLink to="wiring">Wiring</RouterLink> first.
    </p>
    <p v-else-if="error" class="attn">{{ error.message }}</p>
    <template v-else-if="refresh">
      <p class="why">{{ refresh.why }}</p>
      <RefreshPlot :data="refresh" />
      <table v-if="refresh.titles.length" class="plain titles">
        <thead>
          <tr>
            <th>title</th>
            <th>renders</th>
            <th>looks like</th>
          </tr>
        </thead>
        <tbody v-for="t in refresh.titles" :key="t.name">
          <tr v-for="(r, n) in t.rates" :key="r.fps">
            <td>
              <template v-if="n === 0"
                ><b>{{ t.name }}</b
                ><span v-if="t.competitive" class="quiet">, competitive</span></template
              >
            </td>
            <td class="fig">{{ r.fps }}</td>
            <td :class="{ attn: !r.even }">{{ r.words }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
  <TitlePlans />
  <section aria-label="Coverage">
    <h2>Coverage</h2>
    <CoverageTable v-for="s in coverage ?? []" :key="s.device" :screen="s" />
    <p v-if="coverage && !coverage.length" class="quiet">
      No screen of this job is known to store its picture apart by input, range or mode. Its profile says so
      with “is stored apart for each” (Gear, What it is).
    </p>
  </section>
</template>

<style scoped>
section {
  margin-bottom: 18px;
}
.why {
  font-weight: 600;
}
.titles {
  max-width: 760px;
}
</style>
