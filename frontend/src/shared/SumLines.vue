<script setup lang="ts">
// Sums one above the other, figures in the tabular face; the one that breaks the rule stands out.
import type { Quantity } from '../api/client'

defineProps<{ quantities: Quantity[] }>()
</script>

<template>
  <dl v-if="quantities.length" class="sum">
    <div
      v-for="q in quantities"
      :key="q.name"
      :class="{ over: q.over, last: q.name === 'together' || q.name === 'used' }"
    >
      <dt>{{ q.name }}</dt>
      <dd>{{ q.text }}</dd>
    </div>
  </dl>
</template>

<style scoped>
.sum {
  border-top: 1px solid var(--rule);
  border-bottom: 1px solid var(--rule);
  padding: 6px 0;
  margin: 10px 0;
}
.sum div {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  line-height: 22px;
}
dt {
  font-size: 13px;
  color: var(--ink-2);
}
dd {
  font: 13.5px/22px var(--figure);
  white-space: nowrap;
}
.last dt {
  font-weight: 650;
  color: var(--ink);
}
.over dt,
.over dd {
  color: var(--blocked);
  font-weight: 600;
}
</style>
