<script setup lang="ts">
// The parts of a large sheet as a row of buttons; the chosen one stands in the address.
import { useRouter } from 'vue-router'

import type { Part } from './parts'

const props = defineProps<{ parts: readonly Part[]; shown: Part }>()
const router = useRouter()
const pick = (id: string) => void router.replace({ query: id === props.parts[0]?.id ? {} : { part: id } })
</script>

<template>
  <nav class="ways row" aria-label="Parts of this sheet">
    <button
      v-for="p in parts"
      :key="p.id"
      :class="{ on: p.id === shown.id }"
      :aria-current="p.id === shown.id ? 'true' : undefined"
      @click="pick(p.id)"
    >
      {{ p.name }}
    </button>
  </nav>
</template>
