<script setup lang="ts">
// The first runs in the header, the rest in a picker; each by key.
import { computed, nextTick, ref } from 'vue'

import { useJob } from '../shared/job'
import VerdictIcon from '../shared/VerdictIcon.vue'
import { useKeys } from '../shared/keys'

const FIRST = 4
const job = useJob()
const open = ref(false)
const list = ref<HTMLElement | null>(null)
const runs = computed(() => job.shown?.runs ?? [])
const first = computed(() => runs.value.slice(0, FIRST))
const rest = computed(() => runs.value.slice(FIRST))
const chosen = computed(() => rest.value.find((r) => r.uid === job.run?.uid))

function choose(uid: string | undefined) {
  if (uid) job.runUid = uid
  open.value = false
}
async function toggle() {
  open.value = !open.value && rest.value.length > 0
  await nextTick()
  list.value?.querySelector('button')?.focus()
}
function stepBy(by: number) {
  const at = runs.value.findIndex((r) => r.uid === job.run?.uid)
  choose(runs.value[(at + by + runs.value.length) % runs.value.length]?.uid)
}

useKeys([
  ...Array.from({ length: FIRST }, (_, n) => ({
    key: String(n + 1),
    does: `Run ${n + 1}`,
    run: () => choose(runs.value[n]?.uid),
  })),
  { key: 'N', does: 'Next run', run: () => stepBy(1) },
  { key: 'P', does: 'Previous run', run: () => stepBy(-1) },
  { key: 'R', does: 'More runs', run: () => void toggle() },
])
</script>

<template>
  <div class="runs" role="group" aria-label="Runs">
    <button
      v-for="(r, n) in first"
      :key="r.uid"
      class="run"
      :class="{ on: r.uid === job.run?.uid }"
      :aria-pressed="r.uid === job.run?.uid"
      @click="choose(r.uid)"
    >
      <VerdictIcon :verdict="r.verdict" /><span class="label">{{ r.label }}</span> <kbd>{{ n + 1 }}</kbd>
    </button>
    <span v-if="rest.length" class="more">
      <button class="run" :class="{ on: chosen }" :aria-expanded="open" aria-haspopup="true" @click="toggle">
        <template v-if="chosen">
          <VerdictIcon :verdict="chosen.verdict" /><span class="label">{{ chosen.label }}</span>
        </template>
        <span class="count">{{ rest.length }} more</span> <kbd>R</kbd>
      </button>
      <span v-if="open" ref="list" class="list plate" @keydown.esc.stop="open = false">
        <button
          v-for="r in rest"
          :key="r.uid"
          class="run"
          :aria-pressed="r.uid === job.run?.uid"
          @click="choose(r.uid)"
        >
          <VerdictIcon :verdict="r.verdict" />{{ r.label }}
        </button>
      </span>
    </span>
  </div>
</template>

<style scoped>
.runs {
  display: flex;
  gap: 6px;
  min-width: 0;
}
.run {
  border: 1px solid var(--rule);
  padding: 3px 9px;
  min-height: 30px;
  font-size: var(--small);
  font-weight: 400;
  display: flex;
  gap: 7px;
  align-items: center;
  background: var(--paper);
  min-width: 0;
}
.run kbd {
  border-color: var(--rule);
  color: var(--ink-3);
}
.label {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.run.on {
  border-color: var(--signal);
  box-shadow: inset 0 -2px var(--signal);
  background: var(--plate);
  font-weight: 600;
}
.count {
  font-weight: 400;
  color: var(--ink-2);
  white-space: nowrap;
}
.more {
  flex: none;
  position: relative;
}
.list {
  position: absolute;
  right: 0;
  top: 36px;
  z-index: 50;
  display: grid;
  gap: 4px;
  padding: 8px;
  min-width: 200px;
}
@media (max-width: 820px) {
  .run kbd {
    display: none;
  }
  .run:not(.on) .label {
    max-width: 70px;
  }
}
@media (max-width: 600px) {
  .runs {
    flex: 0 1 auto;
  }
  .runs > .run:not(.on) {
    display: none;
  }
  .list {
    position: fixed;
    inset: 48px 8px auto;
    max-height: 70vh;
    overflow-y: auto;
  }
}
@media (pointer: coarse) {
  .run {
    min-height: 40px;
  }
}
</style>
