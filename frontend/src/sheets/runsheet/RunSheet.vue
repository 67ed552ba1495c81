<script setup lang="ts">
// The way from found to plan, step by step; made to be ticked on a phone behind the screen.
import { useLocalStorage, useNow } from '@vueuse/core'
import { computed, ref } from 'vue'

import { say } from '../../shared/announce'
import { useKeys } from '../../shared/keys'
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'
import OneStep from './OneStep.vue'
import StepRow from './StepRow.vue'
import { useRunSheet } from './useRunSheet'

const job = useJob()
const { sheet, error, outbox, away, tick } = useRunSheet()
const past = ref(false)
const start = ref('')
const MINUTES = 60
const NARROW = 600
const time = computed(() => {
  const minutes = sheet.value?.minutes_left ?? 0
  const hours = Math.floor(minutes / MINUTES)
  return hours ? `${hours} h ${minutes % MINUTES} min` : `${minutes} min`
})
const ahead = computed(() => {
  const n = sheet.value?.ahead ?? 0
  if (!n) return 'Nothing is planned otherwise than found: these are checks.'
  return `They make ${n === 1 ? '1 planned change' : `${n} planned changes`}, and look at what nobody has seen.`
})
const phases = computed(() =>
  (sheet.value?.phases ?? [])
    .map((p) => ({ ...p, steps: past.value ? p.steps : p.steps.filter((s) => s.open || s.at) }))
    .filter((p) => p.steps.length),
)
// how long the visit has lasted, by this browser's clock
const begun = useLocalStorage<number>(`wavilex.visit.${job.view?.uid ?? ''}`, 0)
const now = useNow({ interval: 1000 })
const SECOND = 1000
const lasted = computed(() => {
  const seconds = Math.max(0, Math.floor((now.value.getTime() - begun.value) / SECOND))
  const two = (n: number) => String(n).padStart(2, '0')
  return `${Math.floor(seconds / 3600)}:${two(Math.floor(seconds / 60) % MINUTES)}:${two(seconds % MINUTES)}`
})
const clock = () => (begun.value = begun.value ? 0 : Date.now())
const waiting = computed(() => new Set(outbox.value.map((w) => w.key)))
const calendar = computed(() =>
  start.value
    ? `/api/v1/jobs/${job.view?.uid ?? ''}/visit.ics?start=${encodeURIComponent(new Date(start.value).toISOString())}`
    : '',
)
const print = () => window.print()
const single = useLocalStorage('wavilex.onestep', window.innerWidth < NARROW)
const steps = computed(() => sheet.value?.phases.flatMap((p) => p.steps) ?? [])
function tickNext() {
  const next = steps.value.find((s) => s.key === sheet.value?.next)
  if (!next || !mayEdit()) return
  if (!next.keep) return tick(next, 'done')
  // a box asks whether to keep it: which of the two it was only a person can say
  const keep = document.querySelector<HTMLElement>(`[data-key="${next.key}"] .keep`)
  keep?.scrollIntoView({ block: 'center' })
  keep?.focus()
  say(`${next.title}: did the picture stay, or did it revert?`)
}
useKeys([{ key: 'X', does: 'Tick the next step', run: tickNext }])
</script>

<template>
  <div class="head">
    <div>
      <h1>Run sheet</h1>
      <p v-if="sheet">
        <template v-if="sheet.open"
          ><b>{{ sheet.open }} steps to go, about {{ time }}.</b> {{ sheet.done }} done. {{ ahead }}</template
        >
        <template v-else><b>All done.</b></template>
        What stands here follows from found and plan; a tick notes what was found.
      </p>
    </div>
    <span class="row tools">
      <button v-if="!single" @click="tickNext">Tick the next <kbd>X</kbd></button>
      <button :aria-pressed="single" @click="single = !single">
        {{ single ? 'The whole list' : 'One at a time' }}
      </button>
      <button :aria-pressed="!!begun" @click="clock">
        <template v-if="begun"
          ><span class="fig">{{ lasted }}</span> End the visit</template
        >
        <template v-else>Begin the visit</template>
      </button>
      <button @click="print">Print</button>
      <a :href="`/api/v1/jobs/${job.view?.uid ?? ''}/runsheet.pdf`" target="_blank" rel="noopener">PDF</a>
      <label for="visit">Visit on</label>
      <input id="visit" v-model="start" type="datetime-local" />
      <a v-if="calendar" :href="calendar" download>Calendar entry</a>
    </span>
  </div>
  <p v-if="error" class="attn">{{ error.message }}</p>
  <p v-if="away" class="bar" role="alert">
    The server is not reached. {{ outbox.length }} {{ outbox.length === 1 ? 'tick is' : 'ticks are' }} kept in
    this browser and sent when it is back.
  </p>
  <p v-if="!sheet && !error" class="quiet" role="status">Working out the order…</p>
  <OneStep
    v-if="single && sheet"
    :steps="steps"
    :next="sheet.next"
    :waiting="waiting"
    @tick="(s, state) => tick(s, state)"
  />
  <section v-for="p in single ? [] : phases" :key="p.id" :aria-label="p.title">
    <h2>{{ p.title }}</h2>
    <p v-if="p.see" class="small usual"><b>See, unless said otherwise:</b> {{ p.see }}</p>
    <p v-if="p.if_not" class="small quiet usual"><b>If not:</b> {{ p.if_not }}</p>
    <ol>
      <StepRow
        v-for="s in p.steps"
        :key="s.key"
        :step="s"
        :next="s.key === sheet?.next"
        :prove="p.id === 'prove'"
        :waiting="waiting.has(s.key)"
        @tick="tick(s, $event)"
      />
    </ol>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  justify-content: space-between;
  align-items: start;
  margin-bottom: 8px;
}
.head > div {
  flex: 1 1 340px;
}
section {
  max-width: 860px;
  margin-bottom: 16px;
}
.usual {
  line-height: 1.25;
  margin: 0 0 4px 42px;
}
ol {
  list-style: none;
  padding: 0;
  border-top: 1px solid var(--rule-strong);
  background: var(--plate);
}
.bar {
  border: 1px solid var(--blocked);
  background: var(--blocked-soft);
  padding: 6px 10px;
  margin-bottom: 8px;
}
@media print {
  .tools {
    display: none;
  }
}
</style>
