<script setup lang="ts">
// A link without a job: two ends, a lead, a signal. Its address holds the question, so it can be passed on.
import { useQuery } from '@tanstack/vue-query'
import { computed, onMounted, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, ask } from '../../api/client'
import { tell } from '../../shared/announce'
import { session, whoAmI } from '../../shared/session'
import { sentence } from '../../shared/words'
import CarryTable, { type Chosen } from '../../shared/CarryTable.vue'
import LineBar from '../../shared/LineBar.vue'
import SumLines from '../../shared/SumLines.vue'
import VerdictIcon from '../../shared/VerdictIcon.vue'
import HeldLink from './HeldLink.vue'
import LinkAsk from './LinkAsk.vue'
import { paramsOf, queryOf, questionOf, type Question } from './question'
import RateProof from './RateProof.vue'

const route = useRoute()
const router = useRouter()
const question = computed(() => questionOf(route.query))
const heldText = computed(() => (typeof route.query.held === 'string' ? route.query.held : ''))
// The ladder of rates is HDMI's.
const byHdmi = computed(() => /^(frl|tmds):/.test(question.value.out))
const held = computed(() =>
  route.query.held === undefined ? null : questionOf(Object.fromEntries(new URLSearchParams(heldText.value))),
)
function show(now: Question, aside: Question | null) {
  const beside = aside ? { held: new URLSearchParams(queryOf(aside)).toString() } : {}
  void router.replace({ query: { ...queryOf(now), ...beside } })
}
const set = (change: Partial<Question>) => show({ ...question.value, ...change }, held.value)

onMounted(async () => {
  document.title = 'Link · Wavilex'
  if (!(await whoAmI())) await router.replace({ path: '/enter', query: { to: route.fullPath } })
})
const { data: answer, error } = useQuery({
  queryKey: computed(() => ['scratch', question.value]),
  queryFn: () => ask(api.GET('/api/v1/scratch/link', { params: { query: paramsOf(question.value) } })),
  enabled: computed(() => session.value !== null),
  placeholderData: (old) => old,
  retry: false,
})
// What cannot be asked leaves the last answer standing, greyed.
const data = shallowRef<typeof answer.value>()
watch(answer, (now) => now && (data.value = now), { immediate: true })
const chosen = computed<Chosen>(() => ({
  mode: data.value?.rows.find((r) => r.wanted)?.mode ?? '',
  encoding: question.value.encoding,
  bits: Number(question.value.bits),
}))
function choose(cell: Chosen) {
  const row = data.value?.rows.find((r) => r.mode === cell.mode)
  if (!row) return
  const signal = row.wanted ? {} : { timing: row.timing, derived: '' }
  set({ ...signal, encoding: cell.encoding, bits: String(cell.bits) })
}
async function copy(text: string, what: string) {
  await navigator.clipboard.writeText(text)
  tell(`${what} is copied.`)
}
const copyAddress = () => copy(window.location.href, 'The address of this question')
</script>

<template>
  <header class="top">
    <RouterLink to="/" class="mark">Wavilex</RouterLink>
    <b>A link without a job</b>
    <span class="acts">
      <button v-if="!held" @click="show(question, question)">Set this link aside</button>
      <button @click="copyAddress">Copy its address</button>
    </span>
  </header>
  <main class="scratch">
    <LinkAsk :question="question" :rows="data?.rows ?? []" @set="set" />
    <p v-if="error" class="attn" role="alert">{{ error.message }}</p>
    <div v-if="data" class="answer" :class="{ old: error }">
      <section>
        <h1>{{ data.signal }}</h1>
        <p class="verdict" role="status"><VerdictIcon :verdict="data.verdict" /> {{ data.sentence }}</p>
        <HeldLink
          v-if="held"
          :now="question"
          :held="held"
          @drop="show(question, null)"
          @swap="show(held, question)"
        />
        <CarryTable
          :table="{ columns: data.columns, rows: data.rows }"
          :chosen="chosen"
          filter="all"
          @choose="choose"
        />
        <LineBar v-if="data.line" :line="data.line" />
        <p class="modeline">
          <code class="fig">{{ data.modeline }}</code>
          <button class="slight" @click="copy(data.modeline, 'The modeline')">Copy</button>
        </p>
      </section>
      <aside aria-label="Sums">
        <h2>The link carries {{ data.ceiling }}</h2>
        <p class="quiet small">{{ data.limited_by ? sentence(`${data.limited_by} decides`) : '' }}</p>
        <p v-if="data.compression" class="quiet small">Compression, as assumed: {{ data.compression }}.</p>
        <SumLines :quantities="data.quantities" />
        <p v-if="data.plain_count" class="quiet">{{ data.plain_count }}</p>
        <p class="src">{{ data.source }}</p>
        <RateProof v-if="byHdmi" />
      </aside>
    </div>
  </main>
</template>

<style scoped>
.top {
  display: flex;
  gap: 14px;
  align-items: center;
  padding: 6px 16px;
  border-bottom: 1px solid var(--rule-strong);
  background: var(--plate);
}
.acts {
  margin-left: auto;
  display: flex;
  gap: 8px;
}
.mark {
  font-weight: 750;
  letter-spacing: 0.02em;
  color: var(--ink);
  text-decoration: none;
}
.scratch {
  padding: 12px 18px 30px;
  max-width: 1280px;
  margin: 0 auto;
}
.answer {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 330px;
  gap: 22px;
}
.old {
  opacity: 0.45;
}
.verdict {
  font-size: 16.5px;
  font-weight: 640;
  color: var(--ink);
}
.modeline {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-top: 10px;
  font-size: 12.5px;
  color: var(--ink-2);
}
.modeline code {
  overflow-wrap: anywhere;
}
.src {
  font-size: 13px;
  color: var(--ink-3);
  margin: 8px 0 16px;
}
@media (max-width: 900px) {
  .answer {
    grid-template-columns: 1fr;
  }
}
</style>
