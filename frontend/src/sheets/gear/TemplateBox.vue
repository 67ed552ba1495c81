<script setup lang="ts">
// A box by its class: three answers make it a device, marked as common practice.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'

import { api, ask, Problem, type Profile } from '../../api/client'

const emit = defineEmits<{ add: [profile: Profile] }>()
const { data } = useQuery({
  queryKey: ['templates'],
  queryFn: () => ask(api.GET('/api/v1/gear/templates')),
  staleTime: Infinity,
})
const chosen = ref('')
const answers = ref<Record<string, string>>({})
const maker = ref('')
const model = ref('')
const fault = ref('')
const template = computed(() => data.value?.find((t) => t.id === chosen.value))
const whole = computed(() => template.value?.questions.every((q) => answers.value[q.id]) ?? false)
watch(chosen, () => {
  answers.value = {}
  fault.value = ''
})

async function make() {
  fault.value = ''
  try {
    const profile = await ask(
      api.POST('/api/v1/gear/templates/{template_id}', {
        params: { path: { template_id: chosen.value } },
        body: { answers: answers.value, maker: maker.value, model: model.value },
      }),
    )
    emit('add', profile)
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    fault.value = problem.detail
  }
}
</script>

<template>
  <details class="class">
    <summary>By its class: three answers</summary>
    <div class="row ways" role="group" aria-label="Class">
      <button
        v-for="t in data ?? []"
        :key="t.id"
        :class="{ on: t.id === chosen }"
        :aria-pressed="t.id === chosen"
        @click="chosen = t.id"
      >
        {{ t.title }}
      </button>
    </div>
    <template v-if="template">
      <div v-for="q in template.questions" :key="q.id" class="row">
        <span class="ask">{{ q.ask }}</span>
        <label v-for="a in q.answers" :key="a.id" class="tick"
          ><input v-model="answers[q.id]" type="radio" :name="`q-${q.id}`" :value="a.id" />
          {{ a.label }}</label
        >
      </div>
      <div class="row">
        <label for="class-maker">Maker</label> <input id="class-maker" v-model="maker" maxlength="40" />
        <label for="class-model">Model</label> <input id="class-model" v-model="model" maxlength="40" />
        <button class="go" :disabled="!whole" @click="make">Add</button>
      </div>
      <p v-if="fault" class="attn" role="alert">{{ fault }}</p>
      <p class="quiet small">
        Its figures are common practice for the class; read or measure, and correct them.
      </p>
    </template>
  </details>
</template>

<style scoped>
details {
  margin-top: 14px;
  border-top: 1px solid var(--rule);
  padding-top: 10px;
}
summary {
  cursor: pointer;
  font-weight: 600;
}
.row {
  margin: 6px 0;
}
.ask {
  min-width: 220px;
}
.tick {
  display: inline-flex;
  gap: 5px;
  align-items: center;
}
</style>
