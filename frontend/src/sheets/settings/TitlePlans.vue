<script setup lang="ts">
// The screen's settings for each title, solved: what flips between titles, why, what it costs in lag.
import { useQuery } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'

import { api, ask, type TitlePlans } from '../../api/client'
import { mayEdit } from '../../app/session'
import { useJob } from '../../shared/job'

type Style = 'balanced' | 'motion' | 'clear'
const job = useJob()
const style = useLocalStorage<Style>(`wavilex.style.${job.view?.uid ?? ''}`, 'balanced')
const { data } = useQuery({
  queryKey: computed(() => ['titles', job.view?.uid, job.view?.revision, job.run?.uid, style.value]),
  queryFn: () =>
    ask(
      api.GET('/api/v1/jobs/{job_uid}/runs/{run_uid}/titles', {
        params: {
          path: { job_uid: job.view?.uid ?? '', run_uid: job.run?.uid ?? '' },
          query: { style: style.value },
        },
      }),
    ),
  enabled: computed(() => !!job.run),
})
const plan = (t: TitlePlans['titles'][number]) =>
  void job.change(t.ops, `${data.value?.label ?? 'screen'} set for ${t.title}`)
const pick = (event: Event) => (style.value = (event.target as HTMLSelectElement).value as Style)
</script>

<template>
  <section v-if="data" aria-label="Titles">
    <h2>For each title: {{ data.label }}</h2>
    <p class="row">
      <label for="style">House style</label>
      <select id="style" :value="style" @change="pick">
        <option v-for="s in data.styles" :key="s.id" :value="s.id">{{ s.name }}</option>
      </select>
    </p>
    <div class="wide">
      <table class="plain">
        <thead>
          <tr>
            <th>setting</th>
            <th>found → plan</th>
            <th v-for="t in data.titles" :key="t.title">
              {{ t.title }}<template v-if="t.competitive">, competitive</template>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in data.rows" :key="r.key" :class="{ flips: r.flips }">
            <td :title="r.where">
              <b>{{ r.label }}</b><span v-if="r.flips" class="small quiet"><br />flips between titles</span>
            </td>
            <td>{{ r.found }} → {{ r.plan }}</td>
            <td v-for="(c, n) in r.cells" :key="n">
              <template v-if="c"
                ><b>{{ c.label }}</b
                ><br /><span class="small quiet">{{ c.why }}</span></template
              >
              <template v-else>as it is</template>
            </td>
          </tr>
          <tr>
            <td><b>Adds lag</b></td>
            <td></td>
            <td v-for="t in data.titles" :key="t.title" class="fig">
              {{ t.adds_ms ? `${t.adds_ms} ms` : 'none known' }}
            </td>
          </tr>
          <tr>
            <td><b>Goes without</b></td>
            <td></td>
            <td v-for="t in data.titles" :key="t.title" class="small">
              <template v-if="t.missed.length">{{ t.missed.join(' ') }}</template><span v-else class="quiet"
                >nothing it wished for</span
              >
            </td>
          </tr>
          <tr v-if="mayEdit()">
            <td></td>
            <td></td>
            <td v-for="t in data.titles" :key="t.title">
              <button class="slight" @click="plan(t)">
                Plan these<span class="sr"> for {{ t.title }}</span>
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}
td {
  vertical-align: top;
}
.flips td:first-child {
  border-left: 3px solid var(--signal);
}
section {
  margin-bottom: 18px;
}
</style>
