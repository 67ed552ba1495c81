<script setup lang="ts">
// Sums one above the other, figures in the tabular face; the one that breaks the rule stands out.
// With the working each line shows its numbers in place, as one would check it by hand.
import { useLocalStorage } from '@vueuse/core'

import type { Quantity } from '../api/client'

defineProps<{ quantities: Quantity[] }>()
const working = useLocalStorage('wavilex-working', false)
</script>

<template>
  <div v-if="quantities.length" class="sum">
    <dl :class="{ working }">
      <div
        v-for="q in quantities"
        :key="q.name"
        :class="{ over: q.over, last: q.name === 'together' || q.name === 'used' }"
      >
        <dt>{{ q.name }}</dt>
        <dd>{{ q.text }}</dd>
        <dd v-if="working && q.working" class="how">= {{ q.working }}</dd>
      </div>
    </dl>
    <button class="slight" :aria-pressed="working" @click="working = !working">
      {{ working ? 'Figures only' : 'Show the working' }}
    </button>
  </div>
</template>

<style scoped>
.sum {
  border-top: 1px solid var(--rule);
  border-bottom: 1px solid var(--rule);
  padding: 6px 0;
  margin: 10px 0;
}
dl {
  margin-bottom: 4px;
}
dl div {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 0 10px;
  line-height: 22px;
}
dl.working div {
  padding: 2px 0;
}
dt {
  font-size: 13px;
  color: var(--ink-2);
}
dd {
  font: 13.5px/22px var(--figure);
  white-space: nowrap;
}
.how {
  flex-basis: 100%;
  font: 12px/17px var(--figure);
  color: var(--ink-3);
  white-space: normal;
  text-align: right;
}
.last dt {
  font-weight: 650;
  color: var(--ink);
}
.over dt,
.over dd:not(.how) {
  color: var(--blocked);
  font-weight: 600;
}
</style>
