<script setup lang="ts">
// Check what was given, say what is wrong and where, or add it.
import { ref, watch } from 'vue'

import { Problem, type Profile } from '../../../api/client'

const props = defineProps<{ given: string; ask: () => Promise<Profile>; busy: boolean }>()
const emit = defineEmits<{ pick: [profile: Profile] }>()
const fault = defineModel<string>('fault', { default: '' })
const read = ref<Profile | null>(null)
watch(
  () => props.given,
  () => {
    read.value = null
    fault.value = ''
  },
)
async function check() {
  fault.value = ''
  read.value = null
  try {
    read.value = await props.ask()
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    const line = problem.more.line
    fault.value = [line ? `Line ${String(line)}` : '', problem.where, problem.detail]
      .filter(Boolean)
      .join(': ')
  }
}
defineExpose({ check })
</script>

<template>
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
