<script setup lang="ts">
// The want part by part: had now, had by which steps, not to be had and because of which box.
import type { Part } from '../api/client'
import TryApply from './TryApply.vue'

defineProps<{ parts: Part[] }>()
const SIGNS = { had: '✓', by_steps: '→', unknown: '?', not_found: '–', never: '✕' } as const
</script>

<template>
  <h3 class="quiet">Part by part</h3>
  <ul class="parts" aria-label="What is wanted, part by part">
    <li v-for="p in parts" :key="p.key" :class="p.answer">
      <span class="sign" aria-hidden="true">{{ SIGNS[p.answer] }}</span>
      <b>{{ p.wanted }}</b>
      <span class="says">{{ p.says }}</span>
      <small v-if="p.why || p.way">
        <template v-if="p.why">{{ p.why }}<template v-if="p.way">. </template></template>
        <template v-if="p.way">
          {{ p.way.label }}.
          <span class="links">
            <TryApply :fix="p.way" />
          </span>
        </template>
      </small>
    </li>
  </ul>
</template>

<style scoped>
h3 {
  font-size: 13.5px;
  margin: 12px 0 0;
}
.parts {
  list-style: none;
  margin: 4px 0 10px;
  padding: 0;
  border-top: 1px solid var(--rule);
}
.parts li {
  display: grid;
  grid-template-columns: 18px minmax(0, 2fr) minmax(0, 3fr);
  gap: 0 6px;
  padding: 4px 0;
  border-bottom: 1px solid var(--rule);
  align-items: baseline;
}
.sign {
  font-family: var(--figure);
  font-weight: 700;
}
b {
  font-weight: 600;
}
.says {
  font-size: 13px;
  color: var(--ink-2);
  text-align: right;
}
.never .sign,
.never .says {
  color: var(--blocked);
}
.parts small {
  grid-column: 2/-1;
  color: var(--ink-2);
  line-height: 1.35;
}
.links {
  display: inline-flex;
  gap: 6px;
  margin-left: 4px;
}
</style>
