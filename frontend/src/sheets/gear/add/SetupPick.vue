<script setup lang="ts">
// A typical set-up: which class each box is of, and what nobody can guess of it; boxes, leads and run in one go.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { api, ask, Problem, type Op, type Question } from '../../../api/client'
import { useJob } from '../../../shared/job'
import { begun } from './draft'
import PickRow from '../../../shared/PickRow.vue'
import QuestionRow from './QuestionRow.vue'

defineProps<{ busy: boolean }>()
const emit = defineEmits<{ made: [ops: Op[], title: string] }>()
const job = useJob()
const { data: setups } = useQuery({
  queryKey: ['setups'],
  queryFn: () => ask(api.GET('/api/v1/gear/setups')),
  staleTime: Infinity,
})
const { data: templates } = useQuery({
  queryKey: ['templates'],
  queryFn: () => ask(api.GET('/api/v1/gear/templates')),
  staleTime: Infinity,
})
const chosen = ref('')
const classes = ref<Record<string, string>>({})
const answers = ref<Record<string, Record<string, string>>>({})
const fault = ref('')
const setup = computed(() => setups.value?.find((s) => s.id === chosen.value))
function choose(id: string) {
  chosen.value = id
  classes.value = Object.fromEntries(setup.value?.parts.map((p) => [p.id, p.classes[0]?.id ?? '']) ?? [])
  answers.value = Object.fromEntries(setup.value?.parts.map((p) => [p.id, {}]) ?? [])
}
function of(part: string, id: string) {
  classes.value[part] = id
  answers.value[part] = {}
}
// only what nobody can guess is asked here; the rest stands at its usual answer and can be corrected later
const questions = (part: string): Question[] => {
  const all = templates.value?.find((t) => t.id === classes.value[part])?.questions ?? []
  return all.filter((q) => q.kind === 'sockets' && !q.when)
}
const usual = (part: string) => {
  const all = templates.value?.find((t) => t.id === classes.value[part])?.questions ?? []
  return Object.fromEntries(all.map((q) => [q.id, q.usual]))
}
async function make() {
  fault.value = ''
  const s = setup.value
  if (!s) return
  try {
    const told = await ask(
      api.POST('/api/v1/jobs/{job_uid}/setups/{setup}', {
        params: { path: { job_uid: job.view?.uid ?? '', setup: s.id } },
        body: { classes: classes.value, answers: answers.value, room: begun.room },
      }),
    )
    emit('made', told.ops, s.title)
    chosen.value = ''
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    fault.value = problem.detail
  }
}
</script>

<template>
  <div v-if="!setup" class="list">
    <button v-for="s in setups ?? []" :key="s.id" @click="choose(s.id)">
      <b>{{ s.title }}</b>
      <small class="quiet">{{ s.parts.map((p) => p.label).join(', ') }}</small>
    </button>
  </div>
  <form v-else @submit.prevent="make">
    <div class="row top">
      <h2>{{ setup.title }}</h2>
      <button type="button" class="slight" @click="chosen = ''">Another set-up</button>
    </div>
    <section v-for="p in setup.parts" :key="p.id" :aria-label="p.label">
      <h3>{{ p.label }}</h3>
      <PickRow
        v-if="p.classes.length > 1"
        :list="p.classes"
        :on="[classes[p.id] ?? '']"
        @pick="of(p.id, $event)"
      />
      <QuestionRow
        v-for="q in questions(p.id)"
        :key="q.id"
        :question="q"
        :told="{ ...usual(p.id), ...answers[p.id] }"
        @answer="(value) => (answers[p.id] = { ...answers[p.id], [q.id]: value })"
      />
    </section>
    <p class="row last">
      <button class="go" type="submit" :disabled="busy">Put it in the job</button>
      <span class="quiet small">boxes at their factory settings, leads to the best sockets, and the run</span>
    </p>
    <p v-if="fault" class="attn" role="alert">{{ fault }}</p>
  </form>
</template>

<style scoped>
.list {
  display: grid;
  gap: 6px;
  max-width: 520px;
}
.list button {
  text-align: left;
  font-weight: 400;
}
.list small {
  display: block;
}
.top {
  justify-content: space-between;
}
.last {
  margin-top: 12px;
}
h3 {
  font-size: 14px;
  margin: 10px 0 3px;
}
</style>
