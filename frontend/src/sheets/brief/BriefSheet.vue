<script setup lang="ts">
// Ask and look: what is played, in what light, what must stay; and what each run should reach.
import { computed, ref } from 'vue'

import { api, ask, newUid, type Run } from '../../api/client'
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'
import VerdictIcon from '../../shared/VerdictIcon.vue'
import WantFields from '../../shared/WantFields.vue'
import MarksForm from './MarksForm.vue'
import SurveyForm from './SurveyForm.vue'
import TitleList from './TitleList.vue'

const job = useJob()
const source = ref('')
const sink = ref('')
const naming = ref('') // the run whose name is being written
const sources = computed(() => job.shown?.devices.filter((d) => d.role === 'source') ?? [])
const screens = computed(() => job.shown?.devices.filter((d) => d.role === 'screen') ?? [])

async function add() {
  const from = job.deviceOf(source.value)
  const path = { job_uid: job.view?.uid ?? '' }
  const query = { source: source.value, sink: sink.value }
  const want = await ask(api.GET('/api/v1/jobs/{job_uid}/default-want', { params: { path, query } }))
  const row = {
    uid: newUid().slice(0, 12),
    label: from?.label ?? 'run',
    source: source.value,
    sink: sink.value,
    want,
  }
  if (await job.change([{ op: 'add_run', run: row }], `run ${row.label} added`)) {
    job.runUid = row.uid
    source.value = ''
    sink.value = ''
  }
}
const remove = (run: Run) =>
  void job.change([{ op: 'remove_run', run: run.uid }], `run ${run.label} taken out`)
function call(run: Run, event: Event) {
  const label = (event.target as HTMLInputElement).value.trim()
  if (label && label !== run.label)
    void job.change([{ op: 'set_run', run: run.uid, label }], `run called ${label}`)
}
const rename = (event: Event) =>
  void job.change([{ op: 'set_title', value: (event.target as HTMLInputElement).value }], 'title of the job')
</script>

<template>
  <h1>Brief</h1>
  <p>What each run should reach, and what the place asks for.</p>
  <section aria-label="Wants">
    <h2>Wants, run by run</h2>
    <div v-if="!job.shown?.runs.length" class="empty">
      <b>No run yet.</b> A run is one source to one screen.
      <template v-if="!sources.length || !screens.length"
        >Add a source and a screen on <RouterLink to="gear">Gear</RouterLink> first, or
        <RouterLink :to="{ path: 'gear', query: { add: 'setup' } }">start from a typical set-up</RouterLink
        >.</template
      >
    </div>
    <article
      v-for="r in job.shown?.runs"
      :key="r.uid"
      class="run plate"
      :class="{ on: r.uid === job.run?.uid }"
    >
      <div class="head">
        <VerdictIcon :verdict="r.verdict" />
        <input
          v-if="naming === r.uid"
          :ref="(el) => (el as HTMLInputElement | null)?.focus()"
          :aria-label="`Name of the run ${r.label}`"
          maxlength="60"
          :value="r.label"
          @change="call(r, $event)"
          @blur="naming = ''"
          @keydown.enter="($event.target as HTMLInputElement).blur()"
        />
        <button v-else class="plain name" @click="job.runUid = r.uid">{{ r.label }}</button>
        <span class="quiet small">{{ r.stages[0]?.label }} to {{ job.deviceOf(r.sink)?.label }}</span>
        <button v-if="mayEdit()" class="slight out" @click="naming = r.uid">
          Rename<span class="sr"> {{ r.label }}</span>
        </button>
        <button v-if="mayEdit()" class="slight" @click="remove(r)">
          Take out<span class="sr"> {{ r.label }}</span>
        </button>
      </div>
      <WantFields :run="r" :disabled="!mayEdit()" />
    </article>
    <form v-if="mayEdit() && sources.length && screens.length" class="row add" @submit.prevent="add">
      <label for="run-source">New run from</label>
      <select id="run-source" v-model="source" required>
        <option value="" disabled>a source</option>
        <option v-for="d in sources" :key="d.uid" :value="d.uid">{{ d.label }}</option>
      </select>
      <label for="run-sink">to</label>
      <select id="run-sink" v-model="sink" required>
        <option value="" disabled>a screen</option>
        <option v-for="d in screens" :key="d.uid" :value="d.uid">{{ d.label }}</option>
      </select>
      <button type="submit">Add run</button>
    </form>
  </section>
  <MarksForm />
  <SurveyForm />
  <TitleList />
  <section class="row last">
    <label for="job-title">Title of the job</label>
    <input id="job-title" :value="job.shown?.title" maxlength="120" :disabled="!mayEdit()" @change="rename" />
  </section>
</template>

<style scoped>
section {
  margin-bottom: 18px;
}
.run {
  padding: 8px 12px 10px;
  margin-top: 8px;
  border-color: var(--rule);
}
.run.on {
  border-color: var(--signal);
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
  margin-bottom: 4px;
}
.name {
  color: var(--ink);
  font-weight: 650;
  text-decoration: none;
  font-size: 15px;
}
.out {
  margin-left: auto;
}
.add {
  margin-top: 10px;
}
.last input {
  width: min(360px, 100%);
}
</style>
