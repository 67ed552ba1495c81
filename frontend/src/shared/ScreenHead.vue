<script setup lang="ts">
// The head of a sheet that is about one screen: its name, the others to choose from, and the sheet's parts.
defineProps<{
  title: string
  device: string
  screens: readonly { uid: string; label: string; room?: string }[]
}>()
const emit = defineEmits<{ pick: [uid: string] }>()
</script>

<template>
  <div class="head">
    <h1>{{ title }}</h1>
    <label v-if="screens.length > 1" class="row">
      <span class="sr">Screen</span>
      <select
        :value="device"
        aria-label="Screen"
        @change="emit('pick', ($event.target as HTMLSelectElement).value)"
      >
        <option v-for="s in screens" :key="s.uid" :value="s.uid">
          {{ s.label }}{{ s.room ? `, ${s.room}` : '' }}
        </option>
      </select>
    </label>
    <slot />
  </div>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  align-items: baseline;
  margin-bottom: 10px;
}
</style>
