<script setup lang="ts">
// One lead: what it is certified as, how long it is, what it carries.
import { computed } from 'vue'

import { mayEdit } from '../../app/session'
import { useJob } from '../../shared/job'
import VerdictIcon from '../../shared/VerdictIcon.vue'

const props = defineProps<{ uid: string }>()
const emit = defineEmits<{ close: [] }>()
const job = useJob()
const lead = computed(() => job.shown?.leads.find((l) => l.uid === props.uid))
const name = (end: { device: string; port: string } | null | undefined) => {
  const device = end && job.deviceOf(end.device)
  return device
    ? `${device.label} · ${device.ports.find((p) => p.id === end.port)?.label ?? end.port}`
    : 'loose'
}
function set(change: Record<string, unknown>, what: string) {
  void job.change(
    [{ op: 'replace_lead', lead: props.uid, ...change }],
    `lead ${lead.value?.label ?? ''}: ${what}`,
  )
}
function setGrade(event: Event) {
  set({ grade: (event.target as HTMLSelectElement).value }, 'certification')
}
function setLength(event: Event) {
  const text = (event.target as HTMLInputElement).value.trim().replace(',', '.')
  const metres = Number(text)
  set({ length_mm: text === '' ? null : Math.round(metres * 1000) }, 'length')
}
function setLabel(event: Event) {
  const text = (event.target as HTMLInputElement).value.trim()
  if (text) set({ label: text }, 'label')
}
async function takeOut() {
  if (await job.change([{ op: 'remove_lead', lead: props.uid }], `lead ${lead.value?.label ?? ''} taken out`))
    emit('close')
}
</script>

<template>
  <section v-if="lead" class="float panel" :aria-label="`Lead ${lead.label}`">
    <h2>Lead {{ lead.label }}</h2>
    <p>{{ name(lead.a) }} → {{ name(lead.b) }}</p>
    <p v-if="lead.verdict" class="row small">
      <VerdictIcon :verdict="lead.verdict" word /> <span class="fig">{{ lead.tag }}</span>
    </p>
    <div class="fields">
      <label for="lead-grade">Certified as</label>
      <select id="lead-grade" :value="lead.grade" :disabled="!mayEdit()" @change="setGrade">
        <option v-for="g in job.shown?.grades" :key="g.code" :value="g.code">{{ g.name }}</option>
      </select>
      <label for="lead-length">Length, m</label>
      <input
        id="lead-length"
        inputmode="decimal"
        :value="lead.length_mm == null ? '' : lead.length_mm / 1000"
        placeholder="not measured"
        :disabled="!mayEdit()"
        @change="setLength"
      />
      <label for="lead-label">Label</label>
      <input id="lead-label" :value="lead.label" maxlength="40" :disabled="!mayEdit()" @change="setLabel" />
    </div>
    <p class="row">
      <button v-if="mayEdit()" @click="takeOut">Take out</button>
      <button @click="$emit('close')">Close <kbd>Esc</kbd></button>
    </p>
  </section>
</template>

<style scoped>
.panel {
  width: 300px;
}
.fields {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 6px 10px;
  align-items: center;
  margin: 10px 0;
}
.fields > * {
  min-width: 0;
}
</style>
