<script setup lang="ts">
// Complaints in a client's words: several may be true at once.
import { computed, ref } from 'vue'

import type { Fault } from '../../api/client'
import { mayEdit } from '../../shared/session'

const props = defineProps<{ fault: Fault; begun: boolean }>()
const emit = defineEmits<{ answer: [key: string, value: string, words: string]; back: [uid: string] }>()
// once a search is open the ones not picked make room for the check
const all = ref(false)
const shown = computed(() => props.fault.complaints.filter((c) => c.picked || all.value || !props.begun))
const suggested = computed(() => props.fault.complaints.filter((c) => c.suggested && !c.picked))
type Complaint = Fault['complaints'][number]
function pick(c: Complaint) {
  if (c.picked) emit('back', c.picked)
  else emit('answer', c.key, 'yes', c.words)
}
</script>

<template>
  <section class="said" aria-label="What is complained of">
    <h2>What is complained of</h2>
    <p class="picks" role="group" aria-label="Complaints">
      <button
        v-for="c in shown"
        :key="c.code"
        :class="{ on: c.picked }"
        :aria-pressed="!!c.picked"
        :disabled="!mayEdit()"
        @click="pick(c)"
      >
        {{ c.words }}
      </button>
      <button v-if="begun" class="more" :aria-expanded="all" @click="all = !all">
        {{ all ? 'no more' : 'and also …' }}
      </button>
    </p>
    <p v-for="c in suggested" :key="c.code" class="small">
      Noted elsewhere, {{ c.suggested }}:
      <button class="slight" :disabled="!mayEdit()" @click="pick(c)">{{ c.words }}</button>
    </p>
  </section>
</template>

<style scoped>
.said {
  max-width: 900px;
  margin-bottom: 12px;
}
.picks {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 4px;
}
button {
  font-weight: 400;
  white-space: normal;
  text-align: left;
  border-color: var(--rule);
}
button.more {
  border-style: dashed;
}
@media (pointer: coarse) {
  button {
    min-height: 40px;
  }
}
</style>
