<script setup lang="ts">
// Who, when and what for.
import { ref } from 'vue'

import type { Visit, VisitIn } from '../../api/client'

const props = defineProps<{ label: string; visit?: Visit }>()
const emit = defineEmits<{ save: [words: Omit<VisitIn, 'uid'>] }>()
const MINUTE = 60_000
const local = (iso: string) =>
  iso ? new Date(+new Date(iso) - new Date(iso).getTimezoneOffset() * MINUTE).toISOString().slice(0, 16) : ''
const title = ref(props.visit?.title ?? '')
const who = ref(props.visit?.who ?? '')
const note = ref(props.visit?.note ?? '')
const day = ref(local(props.visit?.planned_for ?? ''))
const id = props.visit?.uid ?? 'new'

function save() {
  emit('save', {
    title: title.value.trim(),
    who: who.value.trim(),
    note: note.value.trim(),
    planned_for: day.value ? new Date(day.value).toISOString() : null,
  })
  if (!props.visit) title.value = who.value = note.value = day.value = ''
}
</script>

<template>
  <form class="form" :aria-label="label" @submit.prevent="save">
    <span
      ><label :for="`v-title-${id}`">What for</label
      ><input :id="`v-title-${id}`" v-model="title" maxlength="120"
    /></span>
    <span
      ><label :for="`v-who-${id}`">Who</label><input :id="`v-who-${id}`" v-model="who" maxlength="120"
    /></span>
    <span
      ><label :for="`v-day-${id}`">When</label><input :id="`v-day-${id}`" v-model="day" type="datetime-local"
    /></span>
    <span class="wide"
      ><label :for="`v-note-${id}`">To bring, to ask</label
      ><textarea :id="`v-note-${id}`" v-model="note" rows="1" maxlength="4000"></textarea>
    </span>
    <button type="submit">{{ label }}</button>
  </form>
</template>

<style scoped>
.form {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: end;
  padding: 10px 0;
  border-bottom: 1px solid var(--rule);
}
.form span {
  display: grid;
  gap: 2px;
}
.wide {
  flex: 1 1 220px;
}
textarea {
  width: 100%;
  resize: vertical;
}
</style>
