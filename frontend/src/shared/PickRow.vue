<script setup lang="ts" generic="T extends string">
// A row of buttons, one for each choice, those that hold pressed.
defineProps<{
  list: readonly { id: T; name: string }[]
  on: readonly T[]
  label?: string
  kind?: 'picks' | 'ways'
}>()
const emit = defineEmits<{ pick: [id: T] }>()
</script>

<template>
  <div class="row" :class="kind ?? 'picks'" :role="label ? 'group' : undefined" :aria-label="label">
    <button
      v-for="c in list"
      :key="c.id"
      type="button"
      :class="{ on: on.includes(c.id) }"
      :aria-pressed="on.includes(c.id)"
      @click="emit('pick', c.id)"
    >
      {{ c.name }}
    </button>
    <slot />
  </div>
</template>
