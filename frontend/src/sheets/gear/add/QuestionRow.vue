<script setup lang="ts">
// One question about a box: one of its answers, many, numbered sockets, or a number; what may stay not known says so.
import { computed } from 'vue'

import type { Question } from '../../../api/client'

const props = defineProps<{ question: Question; told: Record<string, string | undefined> }>()
const emit = defineEmits<{ answer: [value: string] }>()
const q = computed(() => props.question)
const answer = computed(() => props.told[q.value.id] ?? '')
const many = computed(() => q.value.kind === 'many' || q.value.kind === 'sockets')
const parts = computed(() => answer.value.split(',').filter((p) => p && p !== 'none'))
const choices = computed(() =>
  q.value.kind === 'sockets'
    ? Array.from({ length: Number(props.told[q.value.sockets_of] ?? 0) }, (_, n) => ({
        id: String(n + 1),
        label: String(n + 1),
      }))
    : q.value.answers,
)
const on = (id: string) => (many.value ? parts.value.includes(id) : answer.value === id)
function pick(id: string) {
  if (!many.value) return emit('answer', id)
  const next = on(id) ? parts.value.filter((p) => p !== id) : [...parts.value, id]
  const order = choices.value.map((c) => c.id).filter((c) => next.includes(c))
  emit('answer', order.join(',') || 'none')
}
</script>

<template>
  <fieldset>
    <legend>{{ q.ask }}</legend>
    <input
      v-if="q.kind === 'number'"
      class="fig"
      :value="answer"
      inputmode="numeric"
      maxlength="5"
      placeholder="not known"
      :aria-label="q.ask"
      @change="emit('answer', ($event.target as HTMLInputElement).value.trim())"
    />
    <span v-else class="picks row">
      <button
        v-for="c in choices"
        :key="c.id"
        type="button"
        :class="{ on: on(c.id) }"
        :aria-pressed="on(c.id)"
        @click="pick(c.id)"
      >
        {{ c.label }}
      </button>
      <button
        v-if="q.optional"
        type="button"
        :class="{ on: !answer }"
        :aria-pressed="!answer"
        @click="emit('answer', '')"
      >
        not known
      </button>
    </span>
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 5px 0;
  margin: 0;
  display: grid;
  grid-template-columns: 230px 1fr;
  gap: 4px 10px;
  align-items: center;
  border-bottom: 1px solid var(--rule);
}
legend {
  float: left;
  padding: 0;
  font-size: 14px;
}
input {
  width: 110px;
}
@media (max-width: 640px) {
  fieldset {
    grid-template-columns: 1fr;
  }
}
</style>
