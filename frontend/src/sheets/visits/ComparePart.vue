<script setup lang="ts">
// Two states held against each other: of two visits, of now, of another job; what differs first.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, ask } from '../../api/client'
import { useJobAnswer } from '../../shared/answers'
import { useJob } from '../../shared/job'
import { useVisits } from './useVisits'

const job = useJob()
const route = useRoute()
const router = useRouter()
const { data: visits } = useVisits()
const { data: jobs } = useQuery({
  queryKey: ['jobs-to-compare'],
  queryFn: () => ask(api.GET('/api/v1/jobs', { params: { query: {} } })),
})
const states = computed(() => visits.value?.states ?? [])
const others = computed(() => (jobs.value?.jobs ?? []).filter((j) => j.uid !== job.view?.uid))
const word = (name: string, usual: string) => {
  const asked = route.query[name]
  return typeof asked === 'string' && asked ? asked : usual
}
const firstKept = computed(
  () => states.value.find((s) => s.name !== 'now')?.name ?? others.value.map((j) => `job/${j.uid}`)[0] ?? '',
)
const a = computed(() => word('a', firstKept.value))
const b = computed(() => word('b', 'now'))
const layer = computed(() => (word('layer', 'found') === 'plan' ? 'plan' : 'found'))
const set = (name: string, value: string) => void router.replace({ query: { ...route.query, [name]: value } })
const { data, error } = useJobAnswer(
  'compared',
  (path) =>
    ask(
      api.GET('/api/v1/jobs/{job_uid}/compare', {
        params: { path, query: { a: a.value, b: b.value, layer: layer.value } },
      }),
    ),
  { also: () => [a.value, b.value, layer.value], enabled: () => !!a.value && !!b.value },
)
const KINDS = {
  verdict: 'What each run carries',
  box: 'Boxes',
  firmware: 'Firmware',
  wiring: 'Wiring',
  setting: 'Settings',
  kept: 'Kept by the client',
  lag: 'Lag',
  light: 'Light',
}
type Kind = keyof typeof KINDS
const groups = computed(() =>
  (Object.keys(KINDS) as Kind[])
    .map((kind) => ({ kind, rows: (data.value?.rows ?? []).filter((r) => r.kind === kind) }))
    .filter((g) => g.rows.length),
)
const same = computed(() =>
  (Object.keys(KINDS) as Kind[])
    .filter((k) => data.value?.same[k])
    .map((k) => `${data.value?.same[k]} of ${KINDS[k].toLowerCase()}`)
    .join(', '),
)
const text = computed(
  () =>
    `/api/v1/jobs/${job.view?.uid ?? ''}/compare.txt?a=${encodeURIComponent(a.value)}&b=${encodeURIComponent(b.value)}&layer=${layer.value}`,
)
const value = (event: Event) => (event.target as HTMLSelectElement).value
const print = () => window.print()
</script>

<template>
  <p class="row tools">
    <label for="cmp-a">From</label>
    <select id="cmp-a" :value="a" @change="set('a', value($event))">
      <option v-for="s in states" :key="s.name" :value="s.name">{{ s.words }}</option>
      <option v-for="j in others" :key="j.uid" :value="`job/${j.uid}`">{{ j.title }}, now</option>
    </select>
    <label for="cmp-b">to</label>
    <select id="cmp-b" :value="b" @change="set('b', value($event))">
      <option v-for="s in states" :key="s.name" :value="s.name">{{ s.words }}</option>
      <option v-for="j in others" :key="j.uid" :value="`job/${j.uid}`">{{ j.title }}, now</option>
    </select>
    <label for="cmp-layer">as</label>
    <select id="cmp-layer" :value="layer" @change="set('layer', value($event))">
      <option value="found">found</option>
      <option value="plan">planned</option>
    </select>
    <button @click="print">Print</button>
    <a v-if="data" class="button slight" :href="text">As text</a>
  </p>
  <p v-if="error" class="attn" role="alert">{{ error.message }}</p>
  <p v-else-if="!a" class="empty">
    <b>There is nothing to hold against yet.</b> Begin and close a visit: its states are kept and stand here.
  </p>
  <p v-else-if="!data" class="quiet">Comparing…</p>
  <template v-else>
    <h2>{{ data.rows.length ? `${data.rows.length} differ` : 'Nothing differs' }}</h2>
    <p class="quiet">{{ data.a }} → {{ data.b }}, as {{ data.layer }}</p>
    <section v-for="g in groups" :key="g.kind">
      <h3>{{ KINDS[g.kind] }}</h3>
      <table class="plain">
        <thead>
          <tr>
            <th>what</th>
            <th>was</th>
            <th>is</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in g.rows" :key="r.what">
            <td>{{ r.what }}</td>
            <td>{{ r.was }}</td>
            <td>
              <b>{{ r.now }}</b><small v-if="r.says">{{ r.says }}</small>
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <p v-if="same" class="quiet small">Alike: {{ same }}.</p>
  </template>
</template>

<style scoped>
td {
  width: 33%;
}
h2 {
  font-size: 17px;
  color: var(--ink);
  margin-top: 8px;
}
section {
  margin-top: 10px;
}
td small {
  display: block;
  color: var(--ink-2);
}
select {
  max-width: 320px;
}
@media print {
  .tools {
    display: none;
  }
}
</style>
