<script setup lang="ts">
// What a condition sets the screen to: a new one, or one of which only the name is known.
import { computed, ref } from 'vue'

import { usedLag } from './useLag'
import { useSettings } from './useSettings'

const props = defineProps<{ name: string; input: string }>()
const emit = defineEmits<{ done: [condition: string] }>()
const lag = usedLag()
const { settings } = useSettings(() => props.input)
const chosen = ref<Record<string, string>>({})
const state = computed(() => Object.fromEntries(Object.entries(chosen.value).filter(([, v]) => v)))
async function keep() {
  const before = new Set(lag.session.value?.conditions)
  const done = await lag.sayState({ name: props.name, input: props.input, state: state.value })
  const made = lag.session.value?.conditions.find((c) => !before.has(c))
  if (done) emit('done', made ?? props.name)
}
</script>

<template>
  <form class="row says" @submit.prevent="keep">
    <span class="small">{{ name ? `“${name}” sets` : 'a state that sets' }}</span>
    <label v-for="s in settings" :key="s.id" class="row small">
      {{ s.label }}
      <select v-model="chosen[s.id]" :aria-label="`${s.label} of this state`">
        <option :value="undefined">not noted</option>
        <option v-for="o in s.options" :key="o.id" :value="o.id">{{ o.label }}</option>
      </select>
    </label>
    <button type="submit" class="go" :disabled="!Object.keys(state).length">Keep</button>
    <button type="button" class="plain" @click="emit('done', '')">Not now</button>
  </form>
</template>

<style scoped>
.says {
  margin: 6px 0;
  padding: 8px 0;
  border-top: 1px solid var(--rule);
  border-bottom: 1px solid var(--rule);
}
</style>
