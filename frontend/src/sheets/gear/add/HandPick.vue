<script setup lang="ts">
// A box written by hand: in the editor, or as a profile file.
import { nextTick, ref } from 'vue'

import { api, ask, type Profile } from '../../../api/client'
import CheckRow from './CheckRow.vue'
import { begun } from './draft'

defineProps<{ busy: boolean }>()
const emit = defineEmits<{ pick: [profile: Profile]; own: [] }>()
const row = ref<InstanceType<typeof CheckRow> | null>(null)
const read = () => ask(api.POST('/api/v1/library/read', { body: { text: begun.text } }))
async function readFile(event: Event) {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  begun.text = await file.text()
  await nextTick()
  await row.value?.check()
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
  <CheckRow ref="row" :given="begun.text" :ask="read" :busy="busy" @pick="emit('pick', $event)" />
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
