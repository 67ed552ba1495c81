<script setup lang="ts">
// A box by its class: questions whose answers change a verdict. What nobody answers stays not known, never guessed.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'

import { api, ask, Problem, type Profile, type Question, type Template } from '../../../api/client'
import { begun } from './draft'
import QuestionRow from './QuestionRow.vue'

const props = defineProps<{ role: string; busy: boolean }>()
const emit = defineEmits<{ pick: [profile: Profile] }>()
const { data } = useQuery({
  queryKey: ['templates'],
  queryFn: () => ask(api.GET('/api/v1/gear/templates')),
  staleTime: Infinity,
})
const groups = computed(() => {
  const list = data.value?.filter((t) => !props.role || t.role === props.role) ?? []
  return [...new Set(list.map((t) => t.group))].map((name) => ({
    name,
    list: list.filter((t) => t.group === name),
  }))
})
const template = computed(() => data.value?.find((t) => t.id === begun.chosen))
const fault = ref('')
function choose(t: Template) {
  begun.chosen = t.id
  begun.answers = Object.fromEntries(t.questions.filter((q) => q.usual).map((q) => [q.id, q.usual]))
}
watch(
  () => [begun.chosen, begun.answers],
  () => (fault.value = ''),
  { deep: true },
)
const parts = (q: Question) => (begun.answers[q.id] ?? '').split(',').filter((p) => p && p !== 'none')
const asked = (q: Question): boolean => {
  const when = q.when
  const of = when && template.value?.questions.find((o) => o.id === when.question)
  return (
    !when ||
    !of ||
    (asked(of) && when.answers.some((a) => parts(of).includes(a) || begun.answers[of.id] === a))
  )
}
async function make() {
  fault.value = ''
  const t = template.value
  if (!t) return
  const known = t.questions.filter((q) => asked(q) && begun.answers[q.id])
  try {
    const profile = await ask(
      api.POST('/api/v1/gear/templates/{template_id}', {
        params: { path: { template_id: t.id } },
        body: {
          answers: Object.fromEntries(known.map((q) => [q.id, begun.answers[q.id] ?? ''])),
          maker: begun.maker,
          model: begun.model,
        },
      }),
    )
    emit('pick', profile)
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    fault.value = problem.detail
  }
}
</script>

<template>
  <div v-if="!template" class="groups">
    <section v-for="g in groups" :key="g.name" :aria-label="g.name">
      <h2>{{ g.name }}</h2>
      <div class="row">
        <button v-for="t in g.list" :key="t.id" class="class" @click="choose(t)">{{ t.title }}</button>
      </div>
    </section>
  </div>
  <form v-else @submit.prevent="make">
    <div class="row top">
      <h2>{{ template.title }}</h2>
      <button type="button" class="slight" @click="begun.chosen = ''">Another class</button>
    </div>
    <QuestionRow
      v-for="q in template.questions.filter(asked)"
      :key="q.id"
      :question="q"
      :told="begun.answers"
      @answer="(value) => (begun.answers[q.id] = value)"
    />
    <div class="row names">
      <label for="class-maker">Maker</label> <input id="class-maker" v-model="begun.maker" maxlength="40" />
      <label for="class-model">Model</label> <input id="class-model" v-model="begun.model" maxlength="40" />
      <button class="go" type="submit" :disabled="busy">Add</button>
    </div>
    <p v-if="fault" class="attn" role="alert">{{ fault }}</p>
    <p class="quiet small">
      The rest is common practice for the class: read or measure, and correct it. Which numbered sockets are
      the fast ones nobody can guess.
    </p>
  </form>
</template>

<style scoped>
.groups h2 {
  margin: 6px 0 3px;
}
.class {
  min-height: 28px;
  padding: 2px 10px;
  font-weight: 400;
  font-size: 13.5px;
}
.top {
  justify-content: space-between;
}
.names {
  position: sticky;
  bottom: 0;
  padding: 8px 0;
  background: var(--plate);
}
</style>
