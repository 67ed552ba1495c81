<script setup lang="ts">
// What every box of a run will show, in walking order; what was seen there; what that says.
import { computed } from 'vue'

import type { ReadCard } from '../../api/client'
import { useJob } from '../../shared/job'
import { useKeys } from '../../shared/keys'
import { mayEdit } from '../../shared/session'
import { shortTime } from '../../shared/words'
import ProbePart from './ProbePart.vue'
import RateTests from './RateTests.vue'
import ReadCardPart from './ReadCard.vue'
import WhatDiffers from './WhatDiffers.vue'
import { useProve } from './useProve'

const job = useJob()
const { prove, error, stage, boxes, outbox, away, see, takeBack, photograph, fetchFrom } = useProve()
const now = computed(() => prove.value?.stage === '')
const headline = computed(() => {
  const p = prove.value
  if (!p) return ''
  if (!now.value) return `${p.open} ${p.open === 1 ? 'line' : 'lines'} to be read then`
  const parts = [`${p.open} ${p.open === 1 ? 'line' : 'lines'} nobody has looked at`]
  if (p.as_predicted) parts.push(`${p.as_predicted} as predicted`)
  if (p.differ) parts.push(`${p.differ} otherwise`)
  if (p.stale) parts.push(`${p.stale} seen before something changed`)
  return parts.join(', ')
})
const first = computed(() =>
  prove.value?.cards.flatMap((c) => c.lines).find((x) => x.says !== null && !x.seen),
)
useKeys([
  {
    key: 'X',
    does: 'The next line is as predicted',
    run: () => {
      const x = first.value
      if (x && now.value && mayEdit()) {
        see([{ line: x.key, answer: 'as_predicted', observed: '', photo: '' }], `${x.label}: as predicted`)
      }
    },
  },
])
const print = () => window.print()
const cards = computed<ReadCard[]>(() => prove.value?.cards ?? [])
</script>

<template>
  <div class="head">
    <div>
      <h1>Prove: {{ job.run?.label ?? 'a run' }}</h1>
      <p v-if="prove">
        <b>{{ headline }}.</b> {{ prove.path }}
      </p>
    </div>
    <span class="row tools">
      <label for="stage">Read at</label>
      <select id="stage" v-model="stage">
        <option v-for="s in prove?.stages ?? []" :key="s.key" :value="s.key">
          {{ s.key && s.key !== 'plan' ? `after: ${s.title}` : s.title
          }}{{ s.changes ? ` (${s.changes} ${s.changes === 1 ? 'line changes' : 'lines change'})` : '' }}
        </option>
      </select>
      <button @click="print">Print</button>
    </span>
  </div>
  <p v-if="error" class="attn">{{ error.message }}</p>
  <p v-if="away" class="bar" role="alert">
    The server is not reached. What {{ outbox.length }}
    {{ outbox.length === 1 ? 'answer says' : 'answers say' }} is kept in this browser and sent when it is
    back.
  </p>
  <div v-if="!job.run" class="empty">
    <b>No run yet.</b> Add one on <RouterLink to="brief">Brief</RouterLink>.
  </div>
  <p v-else-if="!prove && !error" class="quiet" role="status">Working out what will be shown…</p>
  <template v-if="prove">
    <p v-if="!now" class="notnow">
      So it will read {{ stage === 'plan' ? 'once all of the plan is done' : 'after that step' }}. What is
      seen is noted under “Now”.
    </p>
    <WhatDiffers v-if="prove.differ && now" :prove="prove" />
    <div v-if="!cards.length" class="empty">
      <b>Nothing to read.</b> The run is not joined as it was found: see
      <RouterLink to="wiring">Wiring</RouterLink>, or read it at the end of the plan.
    </div>
    <ReadCardPart
      v-for="(c, n) in cards"
      :key="c.key"
      :card="c"
      :number="n + 1"
      :now="now"
      :box="boxes?.find((b) => b.device === c.device && b.places.includes(c.kind))?.name ?? ''"
      @fetch="fetchFrom(c.device)"
      @see="see"
      @back="takeBack"
      @photo="photograph"
    />
    <section v-if="prove.also.length" class="also" aria-label="Also seen">
      <h2>Also seen, where nothing stands to be read now</h2>
      <ul>
        <li v-for="o in prove.also" :key="o.uid">
          {{ o.place }}, {{ o.label }}: <b>{{ o.observed ?? 'differs' }}</b>
          <small class="quiet">{{ shortTime(o.at, job.view?.time_zone) }}, {{ o.by }}</small>
        </li>
      </ul>
    </section>
    <Teleport defer to="#why-own">
      <RateTests :proof="prove.proof" @see="see" />
      <ProbePart />
    </Teleport>
  </template>
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
  flex: 1 1 320px;
}
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}
#stage {
  max-width: 300px;
}
.notnow {
  border-left: 4px solid var(--signal);
  background: var(--signal-soft);
  padding: 6px 10px;
  margin-bottom: 10px;
  max-width: 900px;
}
.bar {
  border: 1px solid var(--blocked);
  background: var(--blocked-soft);
  padding: 6px 10px;
  margin-bottom: 8px;
}
.also {
  max-width: 900px;
}
@media (max-width: 600px) {
  #stage {
    max-width: 100%;
  }
}
@media print {
  .tools {
    display: none;
  }
}
</style>
