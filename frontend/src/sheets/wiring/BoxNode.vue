<script setup lang="ts">
// A box with its sockets, each a button: an output asks where it goes, an input shows its lead.
import type { Port } from '../../api/client'
import type { Box } from './board'

defineProps<{ box: Box; row: number; picked: string | null; onRun: boolean }>()
defineEmits<{ socket: [port: Port] }>()
</script>

<template>
  <article
    class="box"
    :class="{ picked: picked !== null, run: onRun }"
    :style="{ left: `${box.x}px`, top: `${box.y}px`, width: `${box.w}px`, height: `${box.h}px` }"
    :aria-label="box.device.label"
  >
    <b>{{ box.device.label }}</b>
    <em :title="box.device.line">{{ box.device.line }}</em>
    <button
      v-for="p in box.device.ports"
      :key="p.id"
      class="sock"
      :style="{ height: `${row}px` }"
      :class="[p.kind, { on: p.lead, out: p.direction === 'out', picked: picked === p.id }]"
      :title="`${p.rate_text}${p.note ? ', ' + p.note : ''}`"
      @click="$emit('socket', p)"
    >
      <i aria-hidden="true"></i
      ><span
        >{{ p.label }}<template v-if="p.note"> · {{ p.note }}</template></span
      ><span class="fig">{{ p.rate }}</span
      ><span class="sr"
        >{{ p.direction === 'out' ? 'output' : 'input' }}, {{ p.lead ? `lead ${p.lead}` : 'free' }}</span
      >
    </button>
  </article>
</template>

<style scoped>
.box {
  position: absolute;
  scroll-margin: 48px; /* its room's name stays in sight */
  background: var(--plate);
  border: 1px solid var(--rule-strong);
  border-radius: var(--r);
  padding: 6px 0 7px;
}
.box.run {
  border-color: var(--ink);
}
.box.picked {
  border-color: var(--signal);
  box-shadow: 0 0 0 3px var(--signal-soft);
}
b {
  font-weight: 650;
  display: block;
  line-height: 24px;
  padding: 0 10px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
em {
  font-style: normal;
  color: var(--ink-2);
  font-size: 13px;
  line-height: 19px;
  padding: 0 10px 2px;
  display: block;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.sock {
  display: flex;
  align-items: center;
  gap: 6px;
  width: 100%;
  font-size: 13px;
  font-weight: 400;
  min-height: 0;
  padding: 0 10px;
  border: 0;
  border-radius: 0;
  background: none;
  color: var(--ink-2);
}
.sock:hover {
  background: var(--signal-soft);
}
.sock:focus-visible {
  outline-offset: -2px;
}
.sock.on {
  color: var(--ink);
  font-weight: 600;
}
.sock.picked {
  background: var(--signal);
  color: var(--on-signal);
}
.sock span:first-of-type {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.sock i {
  width: 13px;
  height: 8px;
  border: 1.5px solid currentColor;
  border-radius: 1px 1px 4px 4px;
  flex: none;
}
.sock.on i {
  background: currentColor;
}
.sock.audio i,
.sock.analogue i,
.sock.power i {
  width: 9px;
  height: 9px;
  border-radius: 50%;
}
.sock.power i {
  border-radius: 1px;
}
.sock .fig {
  margin-left: auto;
  font-size: 13px;
}
.sock.out {
  flex-direction: row-reverse;
}
.sock.out .fig {
  margin: 0 auto 0 0;
}
</style>
