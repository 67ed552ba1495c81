<script setup lang="ts">
// What the device itself does to a setting: greyed out, set by itself, without effect; why, and what frees it.
import type { Setting } from '../../api/client'

defineProps<{ setting: Setting }>()
const WORDS = {
  greyed: 'greyed out',
  forced: 'set by the box',
  inert: 'does nothing now',
  cycle: 'unsettled',
  '': '',
}
</script>

<template>
  <small v-if="setting.standing" class="standing">
    <b>{{ WORDS[setting.standing] }}</b>: {{ setting.because }}; {{ setting.frees }}
  </small>
  <small
    v-for="b in setting.barred.filter((x) => x.option === setting.value)"
    v-else
    :key="b.option"
    class="standing"
  >
    <b>cannot stay so</b>: {{ b.because }}
  </small>
</template>

<style scoped>
.standing {
  display: block;
  color: var(--ink-2);
  line-height: 1.3;
}
.standing b {
  color: var(--tight);
}
</style>
