<script setup lang="ts">
// Sheets in working order; each says in words what waits there. Narrow: the sheet's key is its sign.
import { useRoute } from 'vue-router'

import { useJob } from '../shared/job'
import { SHEETS } from './sheets'

defineProps<{ current: string }>()
const job = useJob()
const route = useRoute()
</script>

<template>
  <nav aria-label="Sheets">
    <RouterLink
      v-for="s in SHEETS"
      :key="s.id"
      :to="`/jobs/${route.params.job}/${s.id}`"
      :class="{ on: current === s.id }"
      :aria-current="current === s.id ? 'page' : undefined"
    >
      <span class="name">{{ s.name }}</span>
      <kbd aria-hidden="true">{{ s.key }}</kbd>
      <small :class="{ attn: job.shown?.rail[s.id]?.attn }">{{ job.shown?.rail[s.id]?.text }}</small>
    </RouterLink>
  </nav>
</template>

<style scoped>
nav {
  grid-area: rail;
  border-right: 1px solid var(--rule);
  padding: 10px 0;
  display: flex;
  flex-direction: column;
  overflow-y: auto;
}
a {
  display: grid;
  grid-template-columns: 1fr auto;
  padding: 5px 10px 5px 16px;
  color: var(--ink);
  border-left: 3px solid transparent;
  text-decoration: none;
  min-height: 46px;
}
a small {
  grid-column: 1/-1;
  color: var(--ink-2);
  font-size: 13px;
  line-height: 1.2;
}
a small.attn {
  color: var(--blocked);
}
a kbd {
  align-self: center;
  border-color: var(--rule);
  color: var(--ink-3);
}
a.on {
  background: var(--plate);
  border-left-color: var(--signal);
}
a.on .name {
  font-weight: 650;
}
a:focus-visible {
  outline-offset: -2px;
}
@media (max-width: 1080px) {
  a {
    display: grid;
    place-items: center;
    padding: 4px 0;
    position: relative;
    min-height: 48px;
    grid-template-columns: 1fr;
  }
  .name,
  a small {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }
  a kbd {
    font-size: 16px;
    padding: 2px 8px;
    border-color: var(--rule-strong);
    color: var(--ink);
  }
  a.on kbd {
    background: var(--signal);
    color: var(--on-signal);
    border-color: var(--signal);
  }
  a:has(.attn)::after {
    content: '';
    position: absolute;
    right: 7px;
    top: 8px;
    width: 8px;
    height: 8px;
    border-radius: 50%;
    background: var(--blocked);
  }
}
@media (max-width: 600px) {
  nav {
    flex-direction: row;
    overflow: auto hidden;
    scrollbar-width: none;
    padding: 0;
    border-right: 0;
    border-top: 1px solid var(--rule-strong);
    background: var(--plate);
  }
  a {
    flex: 1 1 34px;
    min-width: 34px;
    border-left: 0;
    border-top: 3px solid transparent;
  }
  a.on {
    border-top-color: var(--signal);
  }
  a:has(.attn)::after {
    right: 8px;
    top: 4px;
  }
}
@media print {
  nav {
    display: none;
  }
}
</style>
