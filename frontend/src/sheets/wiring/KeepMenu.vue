<script setup lang="ts">
// The wiring to take along: a drawing, a graph, the cable schedule; or to print.
import { ref } from 'vue'

import { useKeys } from '../../shared/keys'
import { useJob } from '../../shared/job'

const emit = defineEmits<{ print: [] }>()
const job = useJob()
const open = ref(false)
const list = ref<HTMLElement | null>(null)
const FORMS = [
  ['svg', 'Drawing, SVG'],
  ['dot', 'Graph, Graphviz DOT'],
  ['csv', 'Cable schedule, CSV'],
] as const
const address = (form: string) => `/api/v1/jobs/${job.view?.uid ?? ''}/wiring.${form}`

function toggle() {
  open.value = !open.value
}
function print() {
  open.value = false
  emit('print')
}
useKeys([{ key: 'K', does: 'Keep or print the wiring', run: toggle }])
</script>

<template>
  <span ref="list" class="keep" @keydown.esc.stop="open = false">
    <button :aria-expanded="open" aria-haspopup="true" @click="toggle">Keep or print <kbd>K</kbd></button>
    <span v-if="open" class="list plate">
      <a v-for="[form, name] in FORMS" :key="form" :href="address(form)" download @click="open = false">{{
        name
      }}</a>
      <button class="plain" @click="print">Print the cable schedule</button>
    </span>
  </span>
</template>

<style scoped>
.keep {
  position: relative;
}
.list {
  position: absolute;
  right: 0;
  top: 36px;
  z-index: 60;
  display: grid;
  gap: 8px;
  padding: 10px 14px;
  min-width: 210px;
}
.list button {
  text-align: left;
  padding-left: 0;
}
</style>
