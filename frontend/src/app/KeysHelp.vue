<script setup lang="ts">
import Dialog from 'primevue/dialog'
import ToggleSwitch from 'primevue/toggleswitch'
import { computed } from 'vue'

import { keysOn, shortcuts, switchKeys } from '../shared/keys'
import { theme, toggleTheme } from '../shared/theme'
import PhonePart from './PhonePart.vue'

const visible = defineModel<boolean>('visible', { required: true })
const rows = computed(() => {
  const latest = new Map(shortcuts.value.map((s) => [s.key, s]))
  return [...latest.values()]
})
</script>

<template>
  <Dialog
    v-model:visible="visible"
    modal
    header="Keys and display"
    :style="{ width: '560px' }"
    dismissable-mask
  >
    <p class="row">
      <ToggleSwitch :model-value="keysOn" input-id="keys-on" @update:model-value="switchKeys" /><label
        for="keys-on"
        >single keys work (never while typing)</label
      >
    </p>
    <ul>
      <li v-for="s in rows" :key="s.key">
        <kbd>{{ s.key }}</kbd> {{ s.does }}
      </li>
    </ul>
    <PhonePart v-if="visible" />
    <p class="row">
      <button @click="toggleTheme">{{ theme === 'dark' ? 'Light' : 'Dark' }} display</button>
      <a class="small" href="/static/licences.txt" target="_blank" rel="noopener"
        >Licences of what this ships</a
      >
    </p>
  </Dialog>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  columns: 2;
  margin: 14px 0;
}
li {
  padding: 3px 0;
  break-inside: avoid;
}
kbd {
  display: inline-block;
  min-width: 26px;
  text-align: center;
}
</style>
