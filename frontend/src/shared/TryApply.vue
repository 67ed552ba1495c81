<script setup lang="ts">
// The two buttons of a way: try it, apply it. `first`: the way the keys T and A stand for.
import type { Fix } from '../api/client'
import { mayEdit } from './session'
import { useTryout } from './tryout'

defineProps<{ fix: Fix; first?: boolean }>()
const { tried, toggle, apply } = useTryout()
</script>

<template>
  <button :class="{ go: first }" :aria-pressed="tried(fix)" @click="toggle(fix)">
    {{ tried(fix) ? 'End trying' : 'Try' }} <kbd v-if="first">T</kbd>
  </button>
  <button :disabled="!mayEdit()" @click="apply(fix)">Apply <kbd v-if="first">A</kbd></button>
</template>
