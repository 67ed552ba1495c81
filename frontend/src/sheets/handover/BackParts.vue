<script setup lang="ts">
// The backs of the boxes as planned: every socket, with the lead in it and where that goes.
import type { Panel } from '../../api/client'

defineProps<{ panels: Panel[] }>()
</script>

<template>
  <figure v-for="p in panels" :key="p.device">
    <figcaption>
      <b>{{ p.device }}</b> {{ p.code }}<template v-if="p.room">, {{ p.room }}</template>
    </figcaption>
    <div class="back">
      <span v-for="s in p.sockets" :key="s.direction + s.label" :class="{ used: s.lead }">
        <b>{{ s.label }}</b>
        <template v-if="s.lead"
          ><i>{{ s.lead }} {{ s.code }}</i
          ><small>{{ s.to }}</small></template
        >
      </span>
    </div>
  </figure>
</template>

<style scoped>
figure {
  margin: 6px 0;
  break-inside: avoid;
}
.back {
  display: flex;
  flex-wrap: wrap;
}
span {
  display: grid;
  align-content: start;
  border: 1px solid var(--rule);
  padding: 3px 6px;
  min-width: 92px;
  max-width: 150px;
  margin: -1px 0 0 -1px;
  font-size: 12.5px;
}
.used {
  border-color: var(--ink);
  z-index: 1;
}
i {
  font-style: normal;
}
small {
  color: var(--ink-2);
}
</style>
