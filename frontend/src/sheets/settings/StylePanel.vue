<script setup lang="ts">
// House style: which school is followed where practice is divided; for the job, the chosen run, or a title.
import { computed, ref } from 'vue'

import { api, ask, type StyleQuestion } from '../../api/client'
import { useRunAnswer } from '../../shared/answers'
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'

const job = useJob()
const owner = ref('job')
const { data } = useRunAnswer('style', (path) =>
  ask(api.GET('/api/v1/jobs/{job_uid}/runs/{run_uid}/style', { params: { path } })),
)
const title = computed(() => job.view?.titles.find((t) => t.uid === owner.value))
const own = computed<Record<string, string>>(() => {
  if (owner.value === 'job') return job.view?.style ?? {}
  if (owner.value === 'run') return job.run?.style ?? {}
  return title.value?.style ?? {}
})
const SAID = { title: 'by the title', run: 'by the run', job: 'by the job', default: 'as usual' }
const ABOVE = { job: 'as usual', run: 'as the job', title: 'as the run' }
const level = computed(() => (owner.value === 'job' || owner.value === 'run' ? owner.value : 'title'))
function above(q: StyleQuestion): string {
  const usual = q.schools[0]?.name ?? ''
  return owner.value === 'job' ? `${ABOVE.job}: ${usual}` : ABOVE[level.value]
}
function answer(q: StyleQuestion, event: Event) {
  const value = (event.target as HTMLSelectElement).value || null
  const uid = owner.value === 'run' ? (job.run?.uid ?? '') : owner.value
  const where = level.value === 'job' ? {} : { uid }
  void job.change(
    [{ op: 'set_style', level: level.value, ...where, key: q.id, value }],
    `house style: ${q.name}`,
  )
}
</script>

<template>
  <section v-if="data" aria-label="House style">
    <p class="row">
      <label for="style-of">House style of</label>
      <select id="style-of" v-model="owner">
        <option value="job">the whole job</option>
        <option value="run">{{ job.run?.label }}, this run</option>
        <option v-for="t in job.view?.titles" :key="t.uid" :value="t.uid">{{ t.name }}, title</option>
      </select>
    </p>
    <p class="small quiet intro">
      Where practice is divided, a style picks. A title’s answer goes over its run’s, a run’s over the job’s.
    </p>
    <div class="grid">
      <div v-for="q in data" :key="q.id" class="q">
        <label :for="`style-${q.id}`">{{ q.name }}</label>
        <select
          :id="`style-${q.id}`"
          :value="own[q.id] ?? ''"
          :disabled="!mayEdit()"
          @change="answer(q, $event)"
        >
          <option value="">{{ above(q) }}</option>
          <option v-for="s in q.schools" :key="s.id" :value="s.id">{{ s.name }}</option>
        </select>
        <small v-if="q.level !== 'default'"
          >followed on {{ job.run?.label }}: {{ q.schools.find((x) => x.id === q.school)?.name }},
          {{ SAID[q.level] }}</small
        >
      </div>
    </div>
  </section>
</template>

<style scoped>
.intro {
  margin: 4px 0 8px;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
  gap: 10px 16px;
  max-width: 900px;
}
.q {
  display: grid;
  align-content: start;
}
.q select {
  width: 100%;
}
.q small {
  color: var(--ink-2);
  line-height: 1.35;
  margin-top: 2px;
}
</style>
