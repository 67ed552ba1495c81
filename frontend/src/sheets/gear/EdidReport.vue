<script setup lang="ts">
// All of an EDID that matters, in words: section by section, what it means on site under the figure.
import type { components } from '../../api/schema'

defineProps<{ report: components['schemas']['ReportSection'][] }>()
</script>

<template>
  <div class="report">
    <section v-for="s in report" :key="s.title">
      <h3>{{ s.title }}</h3>
      <dl>
        <div v-for="(r, n) in s.rows" :key="n">
          <dt>{{ r.name }}</dt>
          <dd>
            {{ r.value }}<small v-if="r.note">{{ r.note }}</small>
          </dd>
        </div>
      </dl>
    </section>
  </div>
</template>

<style scoped>
.report {
  columns: 2 280px;
  column-gap: 24px;
}
section {
  break-inside: avoid;
  margin-bottom: 10px;
}
h3 {
  font-size: 13.5px;
  font-weight: 650;
  margin: 4px 0;
  border-bottom: 1px solid var(--rule);
}
dl div {
  display: grid;
  grid-template-columns: 118px minmax(0, 1fr);
  gap: 8px;
  padding: 1px 0;
}
dt {
  color: var(--ink-2);
  font-size: 13px;
}
dd {
  font-size: 13.5px;
  overflow-wrap: anywhere;
}
dd small {
  display: block;
  color: var(--ink-2);
}
</style>
