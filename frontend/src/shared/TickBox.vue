<script setup lang="ts">
// A tick box with its words beside it.
defineProps<{ checked: boolean; disabled?: boolean }>()
const emit = defineEmits<{ set: [checked: boolean] }>()
</script>

<template>
  <label class="tick"
    ><input
      type="checkbox"
      :checked="checked"
      :disabled="disabled"
      @change="emit('set', ($event.target as HTMLInputElement).checked)" />
    <slot
  /></label>
</template>

<style scoped>
.tick {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  min-height: 32px;
  color: var(--ink);
  font-size: 14px;
}
.tick input {
  min-height: 0;
  width: 16px;
  height: 16px;
  accent-color: var(--signal);
}
</style>
