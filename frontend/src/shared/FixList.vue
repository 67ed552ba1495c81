<script setup lang="ts">
// The ways to the whole want, cheapest first (try shows the effect, apply edits the plan); what its owner puts after
// them, the sums; and the want part by part.
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed } from 'vue'

import { api, ask, type Fix, type Fixes } from '../api/client'
import BackPanels from './BackPanels.vue'
import { useKeys } from './keys'
import { mayEdit } from './session'
import { useJob } from './job'
import PartList from './PartList.vue'
import TryApply from './TryApply.vue'
import { useTryout } from './tryout'

const SETTLE_MS = 120
const job = useJob()
const committed = computed(() => job.view?.runs.find((r) => r.uid === job.run?.uid) ?? null)
const LIFTED = ['blocked', 'unknown', 'tight']
const wanted = computed(() => committed.value !== null)
const short = computed(() => LIFTED.includes(committed.value?.verdict ?? ''))
const tight = computed(() => committed.value?.verdict === 'tight')
// A search follows the last of several quick edits, not each of them.
const question = computed(
  () => `${job.view?.uid ?? ''} ${job.view?.mark ?? ''} ${committed.value?.uid ?? ''}`,
)
const asked = refDebounced(question, SETTLE_MS)
const { data, isFetching, error } = useQuery({
  queryKey: computed(() => ['fixes', asked.value]),
  queryFn: () =>
    ask(
      api.GET('/api/v1/jobs/{job_uid}/runs/{run_uid}/fixes', {
        params: { path: { job_uid: job.view?.uid ?? '', run_uid: committed.value?.uid ?? '' } },
      }),
    ),
  enabled: computed(() => wanted.value && asked.value === question.value),
})
const fresh = computed(() => (wanted.value && asked.value === question.value ? (data.value ?? null) : null))
const ways = computed(() => fresh.value?.ways ?? [])
const instead = computed(() => fresh.value?.instead ?? [])
// where the whole is not to be had, what can be is said before anything else
const partsFirst = computed(() => short.value && !ways.value.length)
const told = (way: Fix) =>
  [`${way.label}.`, ...way.notes, ...way.effects.map((e) => `${e}.`), `About ${way.minutes} min.`].join(' ')
const { tried, toggle, apply } = useTryout()
const settle = (i: Fixes['instead'][number]) => void job.change(i.settle, `Settle for ${i.name}`)

useKeys([
  {
    key: 'T',
    does: 'Try the cheapest way, or end trying',
    run: () => ways.value[0] && toggle(ways.value[0]),
  },
  {
    key: 'A',
    does: 'Apply the tried way, or the cheapest',
    run: () => {
      const fix = ways.value.find(tried) ?? ways.value[0]
      if (fix && mayEdit()) apply(fix)
    },
  },
])
</script>

<template>
  <section v-if="short" aria-label="Ways to lift it">
    <h2>{{ tight ? 'Ways to make it sure' : 'Ways to lift it' }}</h2>
    <p v-if="!ways.length && (isFetching || asked !== question)" class="quiet small" role="status">
      Looking for the cheapest way…
    </p>
    <p v-else-if="error" class="attn">{{ error.message }}</p>
    <p v-else-if="!ways.length && !tight" class="needs">
      {{ data?.needs || 'Nothing known here lifts it.' }}
    </p>
    <PartList v-if="fresh?.parts.length && partsFirst" :parts="fresh.parts" />
    <template v-if="instead.length">
      <h3>The best that can be had instead</h3>
      <article v-for="i in instead" :key="i.name" class="fix" :class="{ tried: i.way && tried(i.way) }">
        <b>{{ i.name }}</b>
        <span v-if="i.way" class="cost">{{ i.way.cost_text }}</span>
        <small>
          Without {{ i.goes_without.join(', ') }}.
          <template v-if="i.way">{{ told(i.way) }}</template>
          <template v-else>Nothing needs changing for it but the want.</template>
        </small>
        <div v-if="i.way" class="btns">
          <TryApply :fix="i.way" />
          <button :disabled="!mayEdit()" :title="`Apply, and want no more than ${i.name}`" @click="settle(i)">
            Settle for it
          </button>
        </div>
        <div v-else class="btns">
          <button :disabled="!mayEdit()" @click="settle(i)">Settle for it</button>
        </div>
      </article>
    </template>
    <article
      v-for="(fix, n) in ways"
      :key="fix.label"
      class="fix"
      :class="{ best: n === 0, tried: tried(fix) }"
    >
      <b>{{ fix.label }}</b>
      <span class="cost">{{ fix.cost_text }}</span>
      <small>
        Gives {{ fix.gives }}. {{ fix.notes.map((note) => `${note} `).join('') }}About {{ fix.minutes }} min.
      </small>
      <ul v-if="fix.effects.length" :class="{ attn: fix.loses }">
        <li v-for="e in fix.effects" :key="e">{{ e }}</li>
      </ul>
      <div class="btns">
        <TryApply :fix="fix" :first="n === 0" />
      </div>
      <details v-if="fix.sockets.length" class="where">
        <summary>Where, on the boxes</summary>
        <BackPanels :sockets="fix.sockets" />
      </details>
    </article>
    <p v-if="fresh?.proof" class="needs">{{ fresh.proof }}</p>
    <p v-if="data" class="src">{{ data.said }}</p>
  </section>
  <slot />
  <PartList v-if="fresh?.parts.length && !partsFirst" :parts="fresh.parts" />
</template>

<style scoped>
section {
  margin: 12px 0;
}
.fix {
  border: 1px solid var(--rule);
  border-radius: var(--r);
  padding: 8px 10px;
  margin-top: 8px;
  display: grid;
  grid-template-columns: minmax(0, 1fr) fit-content(96px);
  gap: 2px 8px;
  background: var(--paper);
}
.fix.best {
  border-color: var(--signal);
  background: var(--signal-soft);
}
.fix.tried {
  outline: 2px dashed var(--signal);
  outline-offset: -1px;
}
h3 {
  font-size: 13.5px;
  margin: 12px 0 0;
}
.fix ul {
  grid-column: 1/-1;
  margin: 4px 0 0;
  padding-left: 18px;
  font-size: 13px;
}
.fix b {
  font-weight: 600;
}
.fix small {
  grid-column: 1/-1;
  color: var(--ink-2);
  line-height: 1.35;
}
.cost {
  font: 600 13px/1.5 var(--figure);
  color: var(--ink-2);
  text-align: right;
}
.btns {
  display: flex;
  gap: 6px;
  margin-top: 6px;
  grid-column: 1/-1;
}
.where {
  grid-column: 1/-1;
  font-size: 13px;
}
.needs {
  margin-top: 6px;
}
.src {
  font-size: 13px;
  color: var(--ink-3);
  margin-top: 8px;
}
</style>
