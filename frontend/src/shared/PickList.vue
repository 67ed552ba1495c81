<script setup lang="ts">
// A label over a list to choose from; `none` adds an empty first line by that name.
import type { Choice } from './choices'

defineProps<{ id: string; label: string; list: Choice[]; value: string; none?: string; disabled?: boolean }>()
const emit = defineEmits<{ pick: [value: string] }>()
</script>

<template>
  <span class="choice">
    <label :for="id">{{ label }}</label>
    <select
      :id="id"
      :value="value"
      :disabled="disabled"
      @change="emit('pick', ($event.target as HTMLSelectElement).value)"
    >
      <option v-if="none !== undefined" value="">{{ none }}</option>
      <option v-for="c in list" :key="c.id" :value="c.id">{{ c.name }}</option>
    </select>
  </span>
</template>

<style scoped>
.choice {
  display: grid;
  min-width: 0;
}
</style>
