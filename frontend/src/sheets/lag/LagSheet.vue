<script setup lang="ts">
// The lag bench of the chosen run's screen: take or type readings, see them arrive, judge them.
import Dialog from 'primevue/dialog'
import { computed, ref, watch } from 'vue'

import { say } from '../../app/announce'
import { useKeys } from '../../app/keys'
import { mayEdit } from '../../app/session'
import { useJob } from '../../shared/job'
import { ms } from '../../shared/words'
import ReadingPlot from './ReadingPlot.vue'
import { useLag } from './useLag'

const job = useJob()
const COUNT = 12
const jobUid = computed(() => job.view?.uid ?? '')
const device = computed(() => job.view?.runs.find((r) => r.uid === job.run?.uid)?.sink ?? '')
const lag = useLag(jobUid, device, mayEdit())
const { session, readings, meter, busy } = lag
const condition = ref('')
const count = ref(COUNT)
const typed = ref('')
const fresh = ref('')
const warning = ref(false)
let after: (() => void) | null = null

watch(session, (s) => {
  if (s && !s.conditions.includes(condition.value)) condition.value = s.conditions[0] ?? ''
})
const mine = computed(() => readings.value.filter((r) => r.condition === condition.value))
const last = computed(() => mine.value.at(-1) ?? null)
const recent = computed(() => mine.value.slice(-30))
const tallest = computed(() => Math.max(1, ...recent.value.map((r) => r.lag_ms)))
const summaryOf = computed(() =>
  session.value?.report.conditions.find((c) => c.condition === condition.value),
)
watch(last, (r) => r && say(`${r.condition} ${r.lag_ms.toFixed(1)} milliseconds`))
// The rail and the hand-over count readings too.
watch(
  () => [busy.value, busy.value ? 0 : readings.value.filter((r) => !r.discard).length],
  () => job.refresh().catch(() => undefined),
)
const NOT_YET = 'No reading taken yet'
const meterWords = computed(() => {
  const m = meter.value
  if (!m) return 'No meter is set up on this server; readings can be typed.'
  if (m.session !== session.value?.uid || m.state === 'idle') return `Meter “${m.meter}” is ready.`
  if (m.state === 'reading') return `Taking ${m.condition}: ${m.taken} of ${m.asked}.`
  return m.message
})

function guarded(run: () => void) {
  if (!mayEdit() || !session.value) return
  if (session.value.warned_at) run()
  else {
    after = run
    warning.value = true
  }
}
async function accept() {
  warning.value = false
  if (await lag.accept()) after?.()
  after = null
}
const take = () =>
  guarded(() => void lag.start(condition.value, Math.min(200, Math.max(1, Math.round(count.value)))))
const type = () =>
  guarded(() => {
    const value = Number(typed.value.replace(',', '.'))
    void lag.type(condition.value, value).then((kept) => kept && (typed.value = ''))
  })
async function addCondition() {
  const name = fresh.value.trim()
  if (name && (await lag.addCondition(name))) {
    condition.value = name
    fresh.value = ''
  }
}
function next() {
  const all = session.value?.conditions ?? []
  condition.value = all[(all.indexOf(condition.value) + 1) % all.length] ?? ''
}
function discardLast() {
  const reading = [...mine.value].reverse().find((r) => !r.discard)
  if (reading && mayEdit()) void lag.discard(reading.seq, 'discarded at the bench')
}
useKeys([
  { key: 'Enter', does: 'Take readings, or stop', run: () => (busy.value ? void lag.stop() : take()) },
  { key: 'X', does: 'Discard the last reading', run: discardLast },
  { key: 'C', does: 'Next condition', run: next },
])
</script>

<template>
  <h1>Lag bench: {{ session?.device_label ?? 'no screen chosen' }}</h1>
  <p>
    Readings in ms, flash to light, by screen mode. Set the mode on the screen, choose it here, then take
    readings.
  </p>
  <div v-if="!job.view?.runs.length" class="empty">
    <b>No run yet.</b> Lag is measured at a run’s screen: add a run on
    <RouterLink to="brief">Brief</RouterLink>.
  </div>
  <p v-else-if="!session && !mayEdit()" class="empty"><b>No reading yet.</b> A technician opens the bench.</p>
  <p v-if="lag.failed.value" class="attn" role="alert">{{ lag.failed.value }}</p>
  <template v-if="session">
    <div class="bench">
      <section class="plate now" aria-label="Latest reading">
        <h2>{{ condition }}: {{ last ? `reading ${mine.length}` : 'no reading yet' }}</h2>
        <p class="big fig" data-test="latest">{{ last ? last.lag_ms.toFixed(1) : '–' }}<small>ms</small></p>
        <div class="bars" aria-hidden="true">
          <i
            v-for="r in recent"
            :key="r.seq"
            :class="{ gone: r.discard }"
            :style="{ height: `${(100 * r.lag_ms) / tallest}%` }"
          ></i>
        </div>
      </section>
      <section class="plate" aria-label="Take readings">
        <div class="row conditions" role="group" aria-label="Screen mode">
          <button
            v-for="c in session.conditions"
            :key="c"
            :aria-pressed="c === condition"
            :class="{ on: c === condition }"
            @click="condition = c"
          >
            {{ c }}
          </button>
          <form v-if="mayEdit()" class="row" @submit.prevent="addCondition">
            <label class="sr" for="new-condition">Another screen mode</label>
            <input id="new-condition" v-model="fresh" placeholder="another mode" maxlength="60" />
          </form>
        </div>
        <p
          class="state"
          role="status"
          :class="{ attn: meter?.state === 'lost' || meter?.state === 'failed' }"
        >
          {{ meterWords }}
        </p>
        <div class="progress" aria-hidden="true">
          <i
            :style="{ width: busy && meter ? `${(100 * meter.taken) / Math.max(1, meter.asked)}%` : '0%' }"
          ></i>
        </div>
        <div v-if="mayEdit()" class="row">
          <button v-if="!busy" class="go" :disabled="!meter" @click="take">Take <kbd>enter</kbd></button>
          <button v-else @click="lag.stop">Stop <kbd>enter</kbd></button>
          <label for="count">readings</label
          ><input id="count" v-model.number="count" type="number" min="1" max="200" class="short" />
          <button :disabled="!mine.length" @click="discardLast">Discard last <kbd>X</kbd></button>
          <button @click="next">Next mode <kbd>C</kbd></button>
          <form class="row" @submit.prevent="type">
            <label for="typed">or typed, ms</label
            ><input
              id="typed"
              v-model="typed"
              inputmode="decimal"
              class="short"
              required
              pattern="[0-9]+([.,][0-9]+)?"
            />
            <button type="submit">Keep</button>
          </form>
        </div>
      </section>
    </div>
    <h2 class="plothead">By screen mode, ms to light; the near part again, larger</h2>
    <ReadingPlot :session="session" :readings="readings" />
    <p class="small quiet foot">
      <template v-if="session.warned_at"
        >Flashing-picture warning read and accepted.
        <button class="plain small" @click="warning = true">Show again</button></template
      >
      <template v-else>The flashing-picture warning comes before the first reading.</template>
    </p>
  </template>
  <Teleport defer to="#why-own">
    <template v-if="session">
      <h2>What the readings say</h2>
      <p class="verdict" data-test="difference">
        {{ session.report.difference?.sentence ?? NOT_YET + ' in two modes.' }}
      </p>
      <p v-if="session.report.difference?.note" class="quiet small">{{ session.report.difference.note }}</p>
      <section v-for="c in session.report.conditions" :key="c.condition" class="judged">
        <h2>{{ c.condition }}</h2>
        <p :class="{ attn: c.verdict === 'over' }">{{ c.sentence }}</p>
        <dl v-if="c.summary">
          <div>
            <dt>median of {{ c.summary.n }}</dt>
            <dd>{{ ms(c.summary.median_ms) }}</dd>
          </div>
          <div>
            <dt>its interval, {{ session.report.level_percent }} %</dt>
            <dd>
              {{
                c.summary.ci_low_ms == null
                  ? 'from 6 readings'
                  : `${c.summary.ci_low_ms.toFixed(1)} – ${ms(c.summary.ci_high_ms)}`
              }}
            </dd>
          </div>
          <div>
            <dt>lowest, highest</dt>
            <dd>{{ c.summary.low_ms.toFixed(1) }} – {{ ms(c.summary.high_ms) }}</dd>
          </div>
          <div>
            <dt>standard deviation</dt>
            <dd>{{ ms(c.summary.sd_ms) }}</dd>
          </div>
        </dl>
      </section>
      <p class="src">
        Bound {{ session.report.bound_ms }} ms for a {{ session.report.kind }}: common practice (monitor 10,
        television 40). Interval of the median by order statistics, of the difference by ranks: no
        distribution assumed. A sister model’s result is a hope, not a reading.
      </p>
      <p v-if="summaryOf?.summary && summaryOf.summary.n < 6" class="quiet small">
        Take six readings or more in each mode.
      </p>
    </template>
  </Teleport>
  <Dialog v-model:visible="warning" modal header="The picture will flash" :style="{ width: '480px' }">
    <p>
      Lag testing flashes the screen. Flashing light can bring on seizures in people with
      <b>photosensitive epilepsy</b>, also where it never happened before.
    </p>
    <p>Warn everybody in the room. Look away from the flashing patch. Stop at the first discomfort.</p>
    <p class="row end">
      <button @click="warning = false">Not now</button>
      <button class="go" autofocus @click="accept">I have warned everybody: go on</button>
    </p>
  </Dialog>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template-columns: 220px minmax(0, 1fr);
  gap: 12px;
  margin-bottom: 12px;
}
.bench section {
  padding: 10px 14px;
}
.big {
  font-size: 54px;
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
.conditions button.on {
  background: var(--ink);
  color: var(--paper);
  border-color: var(--ink);
}
#new-condition {
  width: 130px;
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
.plothead {
  margin: 4px 0 6px;
}
.foot {
  margin-top: 6px;
}
.verdict {
  font-size: 16.5px;
  line-height: 1.3;
  font-weight: 640;
  margin: 6px 0 8px;
}
.judged {
  border-top: 1px solid var(--rule);
  padding: 8px 0;
}
dl div {
  display: flex;
  justify-content: space-between;
}
dt {
  font-size: 13px;
  color: var(--ink-2);
}
dd {
  font: 13.5px/22px var(--figure);
}
.src {
  font-size: 13px;
  color: var(--ink-3);
  border-top: 1px solid var(--rule);
  padding-top: 8px;
}
.end {
  justify-content: flex-end;
  margin-top: 14px;
}
@media (max-width: 760px) {
  .bench {
    grid-template-columns: 1fr;
  }
}
</style>
