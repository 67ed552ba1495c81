<script setup lang="ts">
// A box the library does not have: from a profile file, or a screen from its EDID.
import { ref, watch } from 'vue'

import { api, ask, Problem, type Profile } from '../../api/client'
import EdidSource from './EdidSource.vue'

const emit = defineEmits<{ add: [profile: Profile] }>()
const way = ref<'edid' | 'profile'>('edid')
const text = ref('')
const edid = ref('')
const fault = ref('')
const read = ref<Profile | null>(null)
watch([way, text, edid], () => {
  read.value = null
  fault.value = ''
})

async function check() {
  fault.value = ''
  read.value = null
  try {
    read.value =
      way.value === 'edid'
        ? await ask(api.POST('/api/v1/edid/profile', { body: { text: edid.value } }))
        : await ask(api.POST('/api/v1/library/read', { body: { text: text.value } }))
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
  text.value = await file.text()
  await check()
}
</script>

<template>
  <details>
    <summary>A box that is not listed</summary>
    <div class="row ways" role="group" aria-label="Read it from">
      <button :aria-pressed="way === 'edid'" :class="{ on: way === 'edid' }" @click="way = 'edid'">
        A screen, from its EDID
      </button>
      <button :aria-pressed="way === 'profile'" :class="{ on: way === 'profile' }" @click="way = 'profile'">
        Any box, from a profile file
      </button>
    </div>
    <EdidSource v-if="way === 'edid'" v-model="edid" @fault="fault = $event" @picked="check" />
    <template v-else>
      <p class="quiet small">A profile is a YAML file; the guide is docs/formats/gear-profile.md.</p>
      <input type="file" accept=".yaml,.yml,text/yaml" aria-label="Profile file" @change="readFile" />
      <textarea
        v-model="text"
        rows="7"
        class="fig"
        aria-label="Profile text"
        placeholder="wavilex_profile: 1"
        spellcheck="false"
      ></textarea>
    </template>
    <p class="row">
      <button @click="check">Check</button>
      <span v-if="fault" class="attn" role="alert">{{ fault }}</span>
      <template v-if="read">
        <span>{{ read.name }}: {{ read.inputs }} in, {{ read.outputs }} out. It is sound.</span>
        <button class="go" @click="emit('add', read)">Add</button>
      </template>
    </p>
    <p v-if="read && way === 'edid'" class="quiet small">
      Not in an EDID: its lag, its menus, its other inputs, and which settings were on.
    </p>
  </details>
</template>

<style scoped>
details {
  margin-top: 16px;
  border-top: 1px solid var(--rule);
  padding-top: 10px;
}
summary {
  cursor: pointer;
  font-weight: 600;
}
.ways {
  margin: 8px 0;
}
textarea {
  margin: 8px 0;
  font-size: 13px;
}
</style>
