<script setup lang="ts">
// A link without a job: two ends, a lead, a signal. Its address holds the question, so it can be passed on.
import { useQuery } from '@tanstack/vue-query'
import { computed, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, ask } from '../../api/client'
import { tell } from '../../app/announce'
import { session, whoAmI } from '../../app/session'
import CarryTable, { type Chosen } from '../../shared/CarryTable.vue'
import LineBar from '../../shared/LineBar.vue'
import SumLines from '../../shared/SumLines.vue'
import VerdictIcon from '../../shared/VerdictIcon.vue'
import RateProof from './RateProof.vue'

const route = useRoute()
const router = useRouter()
const ENDS = [
  ['tmds:165', '4.95 Gb/s (165 MHz)'],
  ['tmds:300', '9 Gb/s (300 MHz)'],
  ['tmds:340', '10.2 Gb/s (340 MHz)'],
  ['tmds:600', '18 Gb/s (600 MHz)'],
  ...['3x3', '3x6', '4x6', '4x8', '4x10', '4x12', '4x16', '4x20', '4x24'].map((r) => {
    const [lanes, rate] = r.split('x').map(Number) as [number, number]
    return [`frl:${r}`, `${lanes * rate} Gb/s (${lanes} × ${rate})`]
  }),
] as [string, string][]
const GRADES = [
  ['standard', 'Standard'],
  ['high_speed', 'High Speed'],
  ['premium', 'Premium High Speed'],
  ['ultra', 'Ultra High Speed'],
  ['ultra96', 'Ultra96'],
  ['unknown', 'not certified'],
] as const
const FORMS = [
  ['rgb', 'RGB, 4:4:4'],
  ['422', '4:2:2'],
  ['420', '4:2:0'],
] as const
const START = {
  out: 'frl:4x12',
  inp: 'frl:4x10',
  grade: 'ultra',
  m: '2',
  timing: 'vic:118',
  encoding: 'rgb',
  bits: '10',
  audio: '2ch',
  dsc: '',
}
type Question = typeof START
const typed = ref('')

const question = computed<Question>(() => {
  const q = { ...START }
  for (const key of Object.keys(q) as (keyof Question)[]) {
    const value = route.query[key]
    if (typeof value === 'string') q[key] = value
  }
  return q
})
function set(change: Partial<Question>) {
  void router.replace({ query: { ...question.value, ...change } })
}
const value = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value
const length = computed(() => {
  const mm = Math.round(Number(question.value.m.replace(',', '.')) * 1000)
  return mm > 0 ? mm : undefined
})

onMounted(async () => {
  document.title = 'Link · Wavilex'
  if (!(await whoAmI())) await router.replace({ path: '/enter', query: { to: route.fullPath } })
  typed.value = question.value.timing
})
const { data, error } = useQuery({
  queryKey: computed(() => ['scratch', question.value]),
  queryFn: () => {
    const q = question.value
    return ask(
      api.GET('/api/v1/scratch/link', {
        params: {
          query: {
            out: q.out,
            inp: q.inp,
            grade: q.grade,
            length_mm: length.value,
            timing: q.timing,
            encoding: q.encoding,
            bits: Number(q.bits),
            audio: q.audio,
            compressed: q.dsc === '1',
          },
        },
      }),
    )
  },
  enabled: computed(() => session.value !== null),
  placeholderData: (old) => old,
  retry: false,
})
const shownMode = computed(() => data.value?.rows.find((r) => r.timing === question.value.timing)?.mode ?? '')
const chosen = computed<Chosen>(() => ({
  mode: shownMode.value,
  encoding: question.value.encoding,
  bits: Number(question.value.bits),
}))
function choose(cell: Chosen) {
  const row = data.value?.rows.find((r) => r.mode === cell.mode)
  if (!row) return
  typed.value = row.timing
  set({ timing: row.timing, encoding: cell.encoding, bits: String(cell.bits) })
}
async function copy() {
  await navigator.clipboard.writeText(window.location.href)
  tell('The address of this question is copied.')
}
</script>

<template>
  <header class="top">
    <RouterLink to="/" class="mark">Wavilex</RouterLink>
    <b>A link without a job</b>
    <button @click="copy">Copy its address</button>
  </header>
  <main class="scratch">
    <div class="ask">
      <span
        ><label for="out">Sending end</label
        ><select id="out" :value="question.out" @change="set({ out: value($event) })">
          <option v-for="[id, name] in ENDS" :key="id" :value="id">{{ name }}</option>
        </select></span
      >
      <span
        ><label for="grade">Lead</label
        ><select id="grade" :value="question.grade" @change="set({ grade: value($event) })">
          <option v-for="[id, name] in GRADES" :key="id" :value="id">{{ name }}</option>
        </select></span
      >
      <span
        ><label for="m">Length, m</label
        ><input
          id="m"
          class="short"
          inputmode="decimal"
          :value="question.m"
          @change="set({ m: value($event) })"
      /></span>
      <span
        ><label for="inp">Receiving end</label
        ><select id="inp" :value="question.inp" @change="set({ inp: value($event) })">
          <option v-for="[id, name] in ENDS" :key="id" :value="id">{{ name }}</option>
        </select></span
      >
      <span
        ><label for="timing">Timing</label
        ><input id="timing" v-model="typed" list="timings" @change="set({ timing: typed.trim() })"
      /></span>
      <span
        ><label for="encoding">Encoding</label
        ><select id="encoding" :value="question.encoding" @change="set({ encoding: value($event) })">
          <option v-for="[id, name] in FORMS" :key="id" :value="id">{{ name }}</option>
        </select></span
      >
      <span
        ><label for="bits">Depth</label
        ><select id="bits" :value="question.bits" @change="set({ bits: value($event) })">
          <option v-for="b in ['8', '10', '12']" :key="b" :value="b">{{ b }}-bit</option>
        </select></span
      >
      <span
        ><label for="audio">Sound</label
        ><select id="audio" :value="question.audio" @change="set({ audio: value($event) })">
          <option value="none">none</option>
          <option value="2ch">2 channels</option>
          <option value="8ch">8 channels</option>
        </select></span
      >
      <label class="tick"
        ><input
          type="checkbox"
          :checked="question.dsc === '1'"
          @change="set({ dsc: question.dsc === '1' ? '' : '1' })"
        />
        compression allowed</label
      >
      <datalist id="timings">
        <option v-for="r in data?.rows" :key="r.timing" :value="r.timing">{{ r.name }}</option>
      </datalist>
    </div>
    <p v-if="error" class="attn" role="alert">{{ error.message }}</p>
    <div v-if="data" class="answer">
      <section>
        <h1>{{ data.signal }}</h1>
        <p class="verdict" role="status"><VerdictIcon :verdict="data.verdict" /> {{ data.sentence }}</p>
        <CarryTable
          :table="{ columns: data.columns, rows: data.rows }"
          :chosen="chosen"
          filter="all"
          @choose="choose"
        />
        <LineBar v-if="data.line" :line="data.line" />
      </section>
      <aside aria-label="Sums">
        <h2>The link carries {{ data.ceiling }}</h2>
        <p class="quiet small">{{ data.limited_by ? `${data.limited_by} decides.` : '' }}</p>
        <SumLines :quantities="data.quantities" />
        <p v-if="data.plain_count" class="quiet">{{ data.plain_count }}</p>
        <p class="src">{{ data.source }}</p>
        <RateProof />
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
.top button {
  margin-left: auto;
}
.mark {
  font-weight: 750;
  letter-spacing: 0.02em;
  color: var(--ink);
  text-decoration: none;
}
.scratch {
  padding: 14px 18px 30px;
  max-width: 1280px;
  margin: 0 auto;
}
.ask {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 10px;
  align-items: end;
  margin-bottom: 14px;
}
.ask > span {
  display: grid;
}
.short {
  width: 64px;
}
#timing {
  width: 220px;
}
.tick {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  min-height: 32px;
  color: var(--ink);
  font-size: 14px;
}
.tick input {
  min-height: 0;
  accent-color: var(--signal);
}
.answer {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 330px;
  gap: 22px;
}
.verdict {
  font-size: 16.5px;
  font-weight: 640;
  color: var(--ink);
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
