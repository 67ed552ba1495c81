<script setup lang="ts">
import { onBeforeUnmount, onMounted } from 'vue'

import { notice, spoken } from '../shared/announce'
import { handleKey } from '../shared/keys'
import { useJob } from '../shared/job'

const job = useJob()
onMounted(() => window.addEventListener('keydown', handleKey))
onBeforeUnmount(() => window.removeEventListener('keydown', handleKey))
</script>

<template>
  <!-- another job is another page: nothing of the former one is kept in its parts -->
  <RouterView v-slot="{ Component, route }">
    <component :is="Component" :key="String(route.params.job ?? '')" />
  </RouterView>
  <div class="sr live" role="status" aria-live="polite">{{ spoken }}</div>
  <div v-if="notice" class="notice" :class="{ bad: notice.bad }" :role="notice.bad ? 'alert' : 'status'">
    <span>{{ notice.text }}</span>
    <button v-if="notice.undo" @click="job.step('undo')">Undo <kbd>U</kbd></button>
    <button class="close" aria-label="Close message" @click="notice = null">✕</button>
  </div>
</template>

<style scoped>
.live {
  position: fixed;
}
.notice {
  position: fixed;
  left: 50%;
  bottom: 132px;
  transform: translateX(-50%);
  background: var(--ink);
  color: var(--paper);
  padding: 8px 8px 8px 16px;
  border-radius: var(--r);
  display: flex;
  gap: 10px;
  align-items: center;
  z-index: 60;
  max-width: min(720px, calc(100vw - 24px));
}
.notice.bad {
  background: var(--blocked-soft);
  color: var(--ink);
  border: 1px solid var(--blocked);
}
.close {
  background: none;
  border: 0;
  color: inherit;
}
@media print {
  .notice {
    display: none;
  }
}
</style>
