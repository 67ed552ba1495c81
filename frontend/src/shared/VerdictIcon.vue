<script setup lang="ts">
// State by shape and word: solid disc fits, half triangle tight, waves compressed, cross blocked, dashed ring unknown.
import type { Verdict } from '../api/client'

defineProps<{ verdict: Verdict; word?: boolean }>()
</script>

<template>
  <span class="state" :class="verdict">
    <svg viewBox="0 0 14 14" aria-hidden="true">
      <circle v-if="verdict === 'fits'" cx="7" cy="7" r="5" fill="currentColor" />
      <template v-else-if="verdict === 'tight'">
        <path d="M7 1.5 13 12.5H1Z" fill="none" stroke="currentColor" stroke-width="1.8" />
        <path d="M7 1.5V12.5H1Z" fill="currentColor" />
      </template>
      <path
        v-else-if="verdict === 'compressed'"
        d="M1 5c2-3 4-3 6 0s4 3 6 0M1 10c2-3 4-3 6 0s4 3 6 0"
        fill="none"
        stroke="currentColor"
        stroke-width="1.8"
      />
      <path
        v-else-if="verdict === 'blocked'"
        d="M2.5 2.5l9 9M11.5 2.5l-9 9"
        stroke="currentColor"
        stroke-width="2.4"
      />
      <circle
        v-else
        cx="7"
        cy="7"
        r="5"
        fill="none"
        stroke="currentColor"
        stroke-width="1.6"
        stroke-dasharray="2.5 2"
      />
    </svg>
    <span :class="word ? '' : 'sr'">{{ verdict }}</span>
  </span>
</template>

<style scoped>
.state {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  position: relative;
}
svg {
  width: 14px;
  height: 14px;
  flex: none;
}
.tight {
  color: var(--tight);
}
.compressed {
  color: var(--compressed);
}
.blocked {
  color: var(--blocked);
}
.unknown {
  color: var(--ink-3);
}
</style>
