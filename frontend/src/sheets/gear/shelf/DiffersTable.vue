<script setup lang="ts">
// Two versions of a box beside each other: only what differs.
import type { Differs } from '../../../api/client'

defineProps<{ rows: Differs[]; before: string; after: string }>()
</script>

<template>
  <table v-if="rows.length" class="plain">
    <thead>
      <tr>
        <th>part</th>
        <th>{{ before }}</th>
        <th>{{ after }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="r in rows" :key="r.part">
        <td>{{ r.part }}</td>
        <td>{{ r.before || 'not said' }}</td>
        <td>{{ r.after || 'not said' }}</td>
      </tr>
    </tbody>
  </table>
  <p v-else class="quiet small">Nothing differs.</p>
</template>

<style scoped>
td {
  overflow-wrap: anywhere;
  font-size: 13.5px;
}
</style>
