<script setup lang="ts">
// A box written by hand: in the editor, or as a profile file.
import { ref, watch } from 'vue'

import { api, ask, Problem, type Profile } from '../../../api/client'
import { begun } from './draft'

defineProps<{ busy: boolean }>()
const emit = defineEmits<{ pick: [profile: Profile]; own: [] }>()
const fault = ref('')
const read = ref<Profile | null>(null)
watch(
  () => begun.text,
  () => {
    read.value = null
    fault.value = ''
  },
)
async function check() {
  fault.value = ''
  read.value = null
  try {
    read.value = await ask(api.POST('/api/v1/library/read', { body: { text: begun.text } }))
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    const line = problem.more.line
    fault.value = [line ? `Line ${String(line)}` : '', problem.where, problem.detail]
      .filter(Boolean)
      .join(': ')
  }
}
async function readFile(event: Event) {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  begun.text = await file.text()
  await check()
}
</script>

<template>
  <p class="row">
    <button class="go" @click="emit('own')">Write it in the editor</button>
    <span class="quiet">sockets, figures, settings and rules, without YAML; checked as you go</span>
  </p>
  <h2>Or a profile file</h2>
  <p class="quiet small">A profile is a YAML file; the guide is docs/formats/gear-profile.md.</p>
  <input type="file" accept=".yaml,.yml,text/yaml" aria-label="Profile file" @change="readFile" />
  <textarea
    v-model="begun.text"
    rows="7"
    class="fig"
    aria-label="Profile text"
    placeholder="wavilex_profile: 1"
    spellcheck="false"
  ></textarea>
  <p class="row">
    <button @click="check">Check</button>
    <span v-if="fault" class="attn" role="alert">{{ fault }}</span>
    <template v-if="read">
      <span
        >{{ read.name }}: {{ read.inputs }} in, {{ read.outputs }} out. Nothing in it contradicts
        itself.</span
      >
      <button class="go" :disabled="busy" @click="emit('pick', read)">Add</button>
    </template>
  </p>
</template>

<style scoped>
h2 {
  margin: 14px 0 2px;
}
textarea {
  margin: 8px 0;
  font-size: 13px;
}
</style>
