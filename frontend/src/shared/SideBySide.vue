<script setup lang="ts">
// Two answers side by side: what differs first, what is alike folded away, cells of the tables that differ.
import { computed } from 'vue'

import type { components } from '../api/schema'
import VerdictIcon from './VerdictIcon.vue'

const props = defineProps<{ told: components['schemas']['ComparedOut']; a: string; b: string }>()
const differing = computed(() => props.told.rows.filter((r) => r.differs))
const alike = computed(() => props.told.rows.filter((r) => !r.differs))
</script>

<template>
  <div class="sides">
    <p v-if="!differing.length" class="same">Nothing differs.</p>
    <table v-else class="plain">
      <thead>
        <tr>
          <th></th>
          <th>{{ a }}</th>
          <th>{{ b }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in differing" :key="r.name">
          <th scope="row">{{ r.name }}</th>
          <td>{{ r.a }}</td>
          <td>{{ r.b }}</td>
        </tr>
      </tbody>
    </table>
    <template v-if="told.cells.length">
      <h2>Modes that change</h2>
      <ul class="cells">
        <li v-for="c in told.cells" :key="c.signal">
          <span>{{ c.signal }}</span>
          <span class="turn">
            <VerdictIcon v-if="c.a" :verdict="c.a" word /><template v-else>not shared</template> →
            <VerdictIcon v-if="c.b" :verdict="c.b" word /><template v-else>not shared</template>
          </span>
        </li>
      </ul>
    </template>
    <details v-if="alike.length">
      <summary>{{ alike.length }} alike</summary>
      <table class="plain">
        <tbody>
          <tr v-for="r in alike" :key="r.name">
            <th scope="row">{{ r.name }}</th>
            <td>{{ r.a }}</td>
          </tr>
        </tbody>
      </table>
    </details>
  </div>
</template>

<style scoped>
.sides {
  display: grid;
  gap: 8px;
}
tbody th {
  font-weight: 400;
  border-bottom: 1px solid var(--rule);
  width: 30%;
}
td {
  font-size: 14px;
  overflow-wrap: anywhere;
}
.cells {
  list-style: none;
  padding: 0;
  columns: 2 320px;
  column-gap: 24px;
}
.cells li {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  border-bottom: 1px solid var(--rule);
  padding: 3px 0;
  break-inside: avoid;
  font-size: 13.5px;
}
.turn {
  white-space: nowrap;
  color: var(--ink-2);
}
summary {
  cursor: pointer;
  font-size: 13px;
  color: var(--ink-2);
}
</style>
