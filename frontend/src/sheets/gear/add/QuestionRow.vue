<script setup lang="ts">
// One question about a box: one of its answers, many, numbered sockets, or a number; what may stay not known says so.
import { computed } from 'vue'

import type { Question } from '../../../api/client'
import PickRow from '../../../shared/PickRow.vue'

const props = defineProps<{ question: Question; told: Record<string, string | undefined> }>()
const emit = defineEmits<{ answer: [value: string] }>()
const q = computed(() => props.question)
const answer = computed(() => props.told[q.value.id] ?? '')
const many = computed(() => q.value.kind === 'many' || q.value.kind === 'sockets')
const parts = computed(() => answer.value.split(',').filter((p) => p && p !== 'none'))
const choices = computed(() => {
  const given =
    q.value.kind === 'sockets'
      ? Array.from({ length: Number(props.told[q.value.sockets_of] ?? 0) }, (_, n) => String(n + 1)).map(
          (n) => ({ id: n, name: n }),
        )
      : q.value.answers.map((a) => ({ id: a.id, name: a.label }))
  return q.value.optional ? [...given, { id: '', name: 'not known' }] : given
})
const held = computed(() => (many.value && answer.value ? parts.value : [answer.value]))
function pick(id: string) {
  if (!many.value || !id) return emit('answer', id)
  const next = held.value.includes(id) ? parts.value.filter((p) => p !== id) : [...parts.value, id]
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
    <PickRow v-else :list="choices" :on="held" @pick="pick" />
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
