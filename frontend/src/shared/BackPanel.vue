<script setup lang="ts">
// The back of a box as its profile has it: its sockets in their order, those in question lit. No true to scale.
import { computed } from 'vue'

import type { Device } from '../api/client'

const props = defineProps<{ device: Device; lit: string[] }>()
const sides = computed(() =>
  (['in', 'out'] as const)
    .map((direction) => ({ direction, ports: props.device.ports.filter((p) => p.direction === direction) }))
    .filter((s) => s.ports.length),
)
const words = computed(
  () =>
    props.device.ports
      .filter((p) => props.lit.includes(p.id))
      .map((p) => p.label)
      .join(' and ') || 'no socket',
)
</script>

<template>
  <figure :aria-label="`Back of ${device.label}: ${words}`">
    <figcaption>{{ device.label }}</figcaption>
    <div class="back">
      <span v-for="s in sides" :key="s.direction" class="side">
        <small>{{ s.direction }}</small>
        <span v-for="p in s.ports" :key="p.id" class="sock" :class="[p.kind, { lit: lit.includes(p.id) }]">
          {{ p.label }}<b v-if="lit.includes(p.id)" aria-hidden="true">here</b>
        </span>
      </span>
    </div>
  </figure>
</template>

<style scoped>
figure {
  margin: 4px 0;
  max-width: 100%;
}
figcaption {
  font-size: 13px;
  color: var(--ink-2);
}
.back {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  border: 1px solid var(--rule-strong);
  border-radius: 6px;
  padding: 8px 10px;
  background: var(--paper);
}
.side {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  align-items: center;
}
.side small {
  color: var(--ink-2);
}
.sock {
  border: 1px solid var(--rule-strong);
  border-radius: 3px 3px 8px 8px;
  padding: 3px 8px 4px;
  font-size: 12.5px;
  background: var(--plate);
}
.sock.audio,
.sock.power {
  border-radius: 12px;
}
.sock.analogue {
  border-radius: 3px;
  border-style: dashed;
}
.lit {
  border: 2px solid var(--signal);
  background: var(--signal-soft);
  font-weight: 700;
}
.lit b {
  display: block;
  font-size: 11px;
  color: var(--signal);
}
</style>
