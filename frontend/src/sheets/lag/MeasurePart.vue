<script setup lang="ts">
// Taking readings: the latest one large, what it is of, the plan's next cell, the meter, or by hand.
import { computed, defineAsyncComponent, ref, watch } from 'vue'

import { say } from '../../shared/announce'
import { useKeys } from '../../shared/keys'
import { mayEdit } from '../../shared/session'
import CellPicker from './CellPicker.vue'
import { strip } from './figures'
import HandReading from './HandReading.vue'
import PlanPanel from './PlanPanel.vue'
import { usedLag } from './useLag'
import { usePlanned } from './usePlanned'

const FigureChart = defineAsyncComponent(() => import('../../shared/FigureChart.vue'))
const props = defineProps<{ guarded: (run: () => void) => void }>()
const COUNT = 12
const lag = usedLag()
const { session, readings, meter, busy } = lag
const { cell, plan, ofCell, missing, planned, waits } = usePlanned()
const count = ref(COUNT)
const settle = ref(true)
const reason = ref('')

watch(missing, (n) => n && (count.value = n), { immediate: true })
const mine = computed(() => readings.value.filter(ofCell))
const last = computed(() => mine.value.at(-1) ?? null)
const recent = computed(() => mine.value.slice(-30))
const tallest = computed(() => Math.max(1, ...recent.value.map((r) => r.lag_ms)))
const told = computed(() => {
  const c = cell.value
  return session.value?.report.conditions.find(
    (x) =>
      x.mode === c.condition && x.signal === c.signal && x.input === c.input && x.position === c.position,
  )
})
watch(last, (r) => r && say(`${r.condition} ${r.lag_ms.toFixed(1)} milliseconds`))
const meterWords = computed(() => {
  const m = meter.value
  if (!m) return 'No meter is set up on this server; readings can be taken by hand.'
  if (m.session !== session.value?.uid || m.state === 'idle') return `Meter “${m.meter}” is ready.`
  if (m.state === 'reading' && m.settling) return `Waiting for ${m.condition} to settle: these do not count.`
  if (m.state === 'reading') return `Taking ${m.condition}: ${m.taken} of ${m.asked}.`
  return m.message
})
const many = () => Math.min(200, Math.max(1, Math.round(count.value)))
const take = () => props.guarded(() => void lag.start(cell.value, many(), settle.value))
const takeOne = () => props.guarded(() => void lag.start(cell.value, 1, false))
const setTo = computed(
  () => session.value?.report.conditions.find((c) => c.mode === cell.value.condition)?.set_to ?? '',
)
const isSet = () =>
  props.guarded(() => {
    void lag.setReady(planned.value).then((done) => {
      if (done && meter.value) void lag.start(cell.value, many(), settle.value)
    })
  })
const go = () => (busy.value ? void lag.stop() : waits.value ? isSet() : take())
function next() {
  if (plan.value) return
  const all = session.value?.conditions ?? []
  const condition = all[(all.indexOf(cell.value.condition) + 1) % all.length] ?? ''
  cell.value = { ...cell.value, condition }
}
function discardLast() {
  const reading = [...mine.value].reverse().find((r) => !r.discard)
  if (reading && mayEdit()) void lag.discard(reading.seq, reason.value.trim() || 'discarded at the bench')
}
function redo() {
  const reading = [...mine.value].reverse().find((r) => !r.discard)
  if (!reading || !mayEdit() || busy.value) return
  void lag.discard(reading.seq, 'taken again').then(() => {
    props.guarded(() => void lag.start(cell.value, 1, false))
  })
}
useKeys([
  { key: 'Enter', does: 'Take readings, or stop', run: go },
  { key: 'Q', does: 'Take one reading', run: () => !busy.value && !waits.value && takeOne() },
  { key: 'X', does: 'Discard the last reading', run: discardLast },
  { key: 'A', does: 'Take the last reading again', run: redo },
  { key: 'C', does: 'Next condition', run: next },
])
const ROW_PX = 46
const height = computed(
  () => 64 + ROW_PX * Math.max(1, session.value?.report.conditions.filter((c) => c.summary).length ?? 1),
)
const spoken = computed(() =>
  (session.value?.report.conditions ?? [])
    .map((c) =>
      c.summary
        ? `${c.condition}: ${c.summary.of} ${c.summary.lag_ms.toFixed(1)} ms of ${c.summary.n}`
        : `${c.condition}: not taken`,
    )
    .join('; '),
)
const figure = computed(() =>
  session.value ? strip(session.value.report, readings.value, near.value && farApart.value) : null,
)
const near = ref(false)
const FAR = 3
const farApart = computed(() => {
  const medians = (session.value?.report.conditions ?? []).flatMap((c) => c.summary?.lag_ms ?? [])
  return Math.max(...medians) > FAR * Math.min(...medians)
})
const MANY = 800
</script>

<template>
  <template v-if="session">
    <PlanPanel
      v-if="mayEdit() || session.plan"
      :cell="cell"
      :waits="waits"
      :count="many()"
      @pick="cell = $event"
      @set="isSet"
    />
    <div class="bench">
      <section class="plate now" aria-label="Latest reading">
        <h2>
          {{ told?.condition ?? cell.condition }}: {{ last ? `reading ${mine.length}` : 'no reading yet' }}
        </h2>
        <p class="big fig" data-test="latest">{{ last ? last.lag_ms.toFixed(1) : '–' }}<small>ms</small></p>
        <div class="bars" aria-hidden="true">
          <i
            v-for="r in recent"
            :key="r.seq"
            :class="{ gone: r.discard }"
            :style="{ height: `${(100 * r.lag_ms) / tallest}%` }"
          ></i>
        </div>
        <p v-if="told?.older" class="small attn">{{ told.older }}</p>
        <p v-if="last?.discard" class="small attn">Does not count: {{ last.discard }}</p>
        <p v-else-if="told?.summary" class="small" :class="{ quiet: told.enough }">{{ told.enough_words }}</p>
      </section>
      <section class="plate" aria-label="Take readings">
        <CellPicker v-if="!plan" v-model="cell" />
        <p v-else class="small quiet">{{ setTo || cell.condition }}</p>
        <p
          class="state"
          role="status"
          :class="{ attn: meter?.state === 'lost' || meter?.state === 'failed' }"
        >
          {{ meterWords }}
        </p>
        <div class="progress" aria-hidden="true">
          <i
            :class="{ wait: meter?.settling }"
            :style="{ width: busy && meter ? `${(100 * meter.taken) / Math.max(1, meter.asked)}%` : '0%' }"
          ></i>
        </div>
        <div v-if="mayEdit()" class="row">
          <button v-if="!busy" :class="{ go: !waits }" :disabled="!meter || waits" @click="take">
            Take <kbd>enter</kbd>
          </button>
          <button v-else @click="lag.stop">Stop <kbd>enter</kbd></button>
          <label for="count">readings</label
          ><input id="count" v-model.number="count" type="number" min="1" max="200" class="short" />
          <label class="row"
            ><input v-model="settle" type="checkbox" /> wait until the picture has settled</label
          >
          <button :disabled="!meter || busy || waits" @click="takeOne">One <kbd>Q</kbd></button>
          <button :disabled="!mine.length || busy" @click="redo">Again <kbd>A</kbd></button>
          <button v-if="!plan" @click="next">Next mode <kbd>C</kbd></button>
          <button :disabled="!mine.length" @click="discardLast">Discard last <kbd>X</kbd></button>
          <label class="sr" for="reason">Why it is discarded</label>
          <input id="reason" v-model="reason" maxlength="200" placeholder="because …" class="reason" />
        </div>
        <HandReading v-if="mayEdit()" :cell="cell" :guarded="guarded" />
      </section>
    </div>
    <template v-if="session.report.conditions.some((c) => c.summary)">
      <div class="row plothead">
        <h2>By screen mode: every reading, its quartiles and median; hollow ones do not count</h2>
        <label v-if="farApart" class="row small"
          ><input v-model="near" type="checkbox" /> only what lies near the bound</label
        >
      </div>
      <FigureChart
        v-if="figure"
        :option="figure"
        :label="spoken"
        :height="height"
        :many="readings.length > MANY"
      />
      <p v-if="session.total > readings.length" class="small quiet">
        The latest {{ readings.length }} of {{ session.total }} readings are drawn; boxes and figures are of
        all.
      </p>
    </template>
  </template>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template-columns: 200px minmax(0, 1fr);
  gap: 12px;
  margin-bottom: 10px;
}
.bench section {
  padding: 10px 14px;
}
.big {
  font-size: 50px;
  font-weight: 600;
  line-height: 1.15;
}
.big small {
  font-size: 18px;
  color: var(--ink-2);
  margin-left: 6px;
}
.bars {
  height: 34px;
  display: flex;
  gap: 2px;
  align-items: end;
}
.bars i {
  width: 4px;
  background: var(--signal);
}
.bars i.gone {
  background: var(--rule-strong);
}
.state {
  margin: 8px 0 4px;
}
.progress {
  height: 7px;
  border: 1px solid var(--rule-strong);
  margin-bottom: 8px;
}
.progress i {
  display: block;
  height: 100%;
  background: var(--signal);
}
.short {
  width: 70px;
}
.reason {
  width: 130px;
}
.plothead {
  margin: 8px 0 2px;
}
@media (max-width: 760px) {
  .bench {
    grid-template-columns: 1fr;
  }
}
</style>
