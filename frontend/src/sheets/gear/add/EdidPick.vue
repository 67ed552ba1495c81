<script setup lang="ts">
// A screen from its EDID: what it says becomes a box; what no EDID says stays open.
import { ref, watch } from 'vue'

import { api, ask, Problem, type Profile } from '../../../api/client'
import { begun } from './draft'
import EdidSource from './EdidSource.vue'

defineProps<{ busy: boolean }>()
const emit = defineEmits<{ pick: [profile: Profile] }>()
const fault = ref('')
const read = ref<Profile | null>(null)
watch(
  () => begun.edid,
  () => {
    read.value = null
    fault.value = ''
  },
)
async function check() {
  fault.value = ''
  read.value = null
  try {
    read.value = await ask(api.POST('/api/v1/edid/profile', { body: { text: begun.edid } }))
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    fault.value = [problem.where, problem.detail].filter(Boolean).join(': ')
  }
}
</script>

<template>
  <EdidSource v-model="begun.edid" @fault="fault = $event" @picked="check" />
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
  <p class="quiet small">Not in an EDID: its lag, its menus, its other inputs, and which settings were on.</p>
</template>
