<script setup lang="ts">
// What the chosen run can carry: the want held against it item by item, the nearest that fits, every mode.
import { computed, ref, watch } from 'vue'

import { api, ask, type Op } from '../../api/client'
import { useRunAnswer } from '../../shared/answers'
import { mayEdit } from '../../shared/session'
import FixList from '../../shared/FixList.vue'
import { useJob } from '../../shared/job'
import PickRow from '../../shared/PickRow.vue'
import SumLines from '../../shared/SumLines.vue'
import VerdictIcon from '../../shared/VerdictIcon.vue'
import RunNotes from '../../shared/RunNotes.vue'
import WantFields from '../../shared/WantFields.vue'
import CarryTable, { type Chosen } from '../../shared/CarryTable.vue'
import RetroPart from './RetroPart.vue'
import LineBar from '../../shared/LineBar.vue'
import BesideRun from './BesideRun.vue'

const job = useJob()
const chosen = ref<Chosen | null>(null)
const filter = ref('all')
const FILTERS = [
  { id: 'all', name: 'all shared modes' },
  { id: 'fast', name: '100 Hz and up' },
  { id: 'hdr', name: 'HDR depth' },
  { id: 'full', name: 'full chroma' },
  { id: 'fits', name: 'fits only' },
] as const

const run = computed(() => job.run)
const joined = computed(() => (run.value?.links.length ?? 0) > 0)
const digital = computed(() => run.value?.links.some((l) => l.transport !== null) ?? false)
const { data: table, error } = useRunAnswer(
  'table',
  (path) =>
    job.ghostOps.length
      ? ask(
          api.POST('/api/v1/jobs/{job_uid}/runs/{run_uid}/try-table', {
            params: { path },
            body: { ops: job.ghostOps },
          }),
        )
      : ask(api.GET('/api/v1/jobs/{job_uid}/runs/{run_uid}/table', { params: { path } })),
  { also: () => [job.ghostOps], enabled: () => joined.value },
)
const { data: told } = useRunAnswer(
  'explain',
  (path) =>
    ask(
      api.GET('/api/v1/jobs/{job_uid}/runs/{run_uid}/explain', {
        params: { path, query: chosen.value ?? { mode: '', encoding: '', bits: 8 } },
      }),
    ),
  { also: () => [chosen.value], enabled: () => chosen.value !== null && joined.value },
)
// The want's own cell is chosen until somebody picks another; tried changes show the want's own sums.
watch(
  () => [
    run.value?.uid,
    run.value?.asked_signal?.mode,
    run.value?.asked_signal?.encoding,
    run.value?.asked_signal?.bits,
  ],
  () => (chosen.value = null),
)
function want(cell: Chosen) {
  const asked = run.value
  if (!asked || !mayEdit()) return
  const chroma = table.value?.columns.find(
    (c) => c.encoding === cell.encoding && c.bits === cell.bits,
  )?.chroma
  if (!chroma) return
  const set = (key: string, value: string | number): Op => ({ op: 'set_want', run: asked.uid, key, value })
  void job.change(
    [set('mode', cell.mode), set('chroma', chroma), set('bits', cell.bits)],
    `${asked.label} wants another signal`,
  )
  chosen.value = null
}
function choose(cell: Chosen) {
  job.stopTry() // sums of one cell are those of the plan
  chosen.value = cell
}
const shownCell = computed<Chosen | null>(() => chosen.value ?? run.value?.asked_signal ?? null)
const stop = computed(() => run.value?.links.find((l) => l.verdict === 'blocked'))
const fullest = computed(() => {
  if (stop.value) return stop.value
  return (
    [...(run.value?.links ?? [])].sort((a, b) => (b.used_percent ?? 0) - (a.used_percent ?? 0))[0] ?? null
  )
})
const line = computed(() => (chosen.value ? told.value?.line : fullest.value?.line) ?? null)
const bests = computed(() => {
  const r = run.value
  if (!r || r.verdict === 'fits' || r.verdict === 'tight') return []
  const list = [
    { why: 'for rate', best: r.best_rate },
    { why: r.want.hdr === 'off' ? 'for detail' : 'for detail and HDR', best: r.best_detail },
  ]
  return list.filter((x) => x.best)
})
</script>

<template>
  <h1>Signal: what the {{ run?.label ?? 'chosen' }} run can carry</h1>
  <p v-if="run && joined">{{ run.headline }}</p>
  <div v-if="!run" class="empty">
    <b>No run yet.</b> A run joins one source to one screen. Add it on
    <RouterLink to="brief">Brief</RouterLink>.
  </div>
  <template v-else>
    <section class="ask" aria-label="The want">
      <WantFields :run="run" :disabled="!mayEdit()" />
      <ul class="items">
        <li
          v-for="i in run.items"
          :key="i.key"
          :class="i.verdict"
          :title="i.reasons.map((r) => r.text).join(' ')"
        >
          <VerdictIcon :verdict="i.verdict" /> <b>{{ i.name }}</b>
          <span>{{
            i.verdict === 'fits'
              ? 'yes'
              : i.verdict === 'blocked'
                ? i.blocking
                  ? 'no'
                  : 'no, by hand'
                : i.verdict
          }}</span>
        </li>
      </ul>
    </section>
    <RetroPart />
    <section v-if="bests.length" class="bests" aria-label="The best signals that do fit">
      <div v-for="b in bests" :key="b.why" class="best plate">
        <h2>Best that fits, {{ b.why }}</h2>
        <p>
          <b>{{ b.best?.name }}</b> <span class="fig">{{ b.best?.used_percent?.toFixed(1) }} % used</span>
        </p>
        <p class="quiet small">{{ b.best?.timing }}{{ b.best?.hdr ? ', with HDR' : '' }}</p>
      </div>
    </section>
    <div v-if="!joined" class="empty">
      <b>Not joined yet.</b> Plug {{ run.stages[0]?.label }} in on
      <RouterLink to="wiring">Wiring</RouterLink>; then every mode is judged here.
    </div>
    <RunNotes v-if="!joined" :run="run" />
    <template v-else>
      <PickRow
        v-if="digital"
        class="filters"
        label="Modes shown"
        :list="FILTERS"
        :on="[filter]"
        @pick="filter = $event"
      >
        <span class="quiet small">Each cell: the share of the line left over (+) or missing (−).</span>
      </PickRow>
      <p v-if="error" class="attn">{{ error.message }}</p>
      <CarryTable
        v-if="table && digital"
        :table="table"
        :chosen="shownCell"
        :filter="filter"
        @choose="choose"
        @want="want"
      />
      <RunNotes :run="run" />
      <LineBar v-if="line" :line="line" />
      <BesideRun />
    </template>
  </template>
  <Teleport defer to="#why-own">
    <template v-if="run">
      <template v-if="chosen && told">
        <h2>{{ told.name }}</h2>
        <p class="verdict"><VerdictIcon :verdict="told.verdict" /> {{ told.sentence }}</p>
        <SumLines :quantities="told.quantities" />
        <p v-if="told.plain_count" class="quiet">{{ told.plain_count }}</p>
        <p class="src">{{ told.source }}</p>
        <p class="row">
          <button v-if="mayEdit()" class="go" @click="want(chosen)">Make it the want <kbd>enter</kbd></button>
          <button @click="chosen = null">Back to the want</button>
        </p>
      </template>
      <template v-else>
        <h2>{{ run.asked ?? run.wanted }}, wanted</h2>
        <p class="verdict"><VerdictIcon :verdict="run.verdict" /> {{ run.headline }}</p>
        <p v-if="run.limiting?.because" class="quiet small">
          {{ run.limiting.because }} ({{ run.limiting.provenance }}).
        </p>
        <p v-if="run.alternatives.length" class="quiet">
          Also fits the want: {{ run.alternatives.join(', ') }}.
        </p>
        <ul v-if="run.reasons.length > 1" class="reasons">
          <li v-for="r in run.reasons.slice(1)" :key="r.code + r.subject">{{ r.text }}</li>
        </ul>
        <FixList><SumLines v-if="fullest" :quantities="fullest.quantities" /></FixList>
        <p v-if="fullest" class="src">{{ fullest.source }}</p>
      </template>
    </template>
  </Teleport>
</template>

<style scoped>
.ask {
  display: grid;
  gap: 8px;
  margin-bottom: 10px;
}
.items {
  list-style: none;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  font-size: 13.5px;
}
.items li {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.items b {
  font-weight: 500;
}
.items span {
  color: var(--ink-2);
}
.items .blocked span {
  color: var(--blocked);
  font-weight: 600;
}
.bests {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(240px, 1fr));
  gap: 10px;
  margin-bottom: 10px;
}
.best {
  padding: 7px 12px;
}
.best p:first-of-type {
  display: flex;
  justify-content: space-between;
  gap: 8px;
}
.filters {
  margin-bottom: 8px;
}
.verdict {
  font-size: 16.5px;
  line-height: 1.3;
  font-weight: 640;
  margin: 6px 0 4px;
}
.reasons {
  padding-left: 18px;
  font-size: 13.5px;
  color: var(--ink-2);
  margin: 8px 0;
}
.src {
  font-size: 13px;
  color: var(--ink-3);
  margin: 8px 0;
}
</style>
