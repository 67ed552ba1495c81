<script setup lang="ts">
// A link set aside, held beside the one asked now.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { api, ask } from '../../api/client'
import SideBySide from '../../shared/SideBySide.vue'
import { askedOf, type Question } from './question'

const props = defineProps<{ now: Question; held: Question }>()
const emit = defineEmits<{ drop: []; swap: [] }>()
const { data, error } = useQuery({
  queryKey: computed(() => ['compare-links', props.now, props.held]),
  queryFn: () =>
    ask(api.POST('/api/v1/scratch/compare', { body: { a: askedOf(props.now), b: askedOf(props.held) } })),
  placeholderData: (old) => old,
  retry: false,
})
</script>

<template>
  <section class="held" aria-label="Side by side">
    <p class="row">
      <b>Beside the link set aside</b>
      <button class="slight" @click="emit('swap')">Change places</button>
      <button class="slight" @click="emit('drop')">Let it go</button>
    </p>
    <p v-if="error" class="attn" role="alert">{{ error.message }}</p>
    <SideBySide v-if="data" :told="data" a="this link" b="set aside" />
  </section>
</template>

<style scoped>
.held {
  border: 1px solid var(--rule-strong);
  border-left: 3px solid var(--signal);
  border-radius: var(--r);
  background: var(--plate);
  padding: 8px 12px;
  margin-bottom: 14px;
  display: grid;
  gap: 8px;
}
</style>
