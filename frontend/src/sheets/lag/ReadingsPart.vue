<script setup lang="ts">
// Every reading in the order it came, over time and firmware; as a table, in and out.
import { computed, defineAsyncComponent, ref } from 'vue'

import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'
import { ms, sentence, shortTime } from '../../shared/words'
import { timeline } from './figures'
import { usedLag } from './useLag'

const FigureChart = defineAsyncComponent(() => import('../../shared/FigureChart.vue'))
const job = useJob()
const lag = usedLag()
const { session, readings } = lag
const report = ref<{ taken: number; refused: { line: number; why: string }[] } | null>(null)
const sending = ref<number | null>(null)
const SHOWN = 40
const MANY = 800
const latest = computed(() => [...readings.value].reverse().slice(0, SHOWN))
const figure = computed(() =>
  readings.value.length ? timeline(readings.value, session.value?.report.bound_ms ?? 0) : null,
)
async function read(event: Event) {
  const field = event.target as HTMLInputElement
  const file = field.files?.[0]
  if (!file) return
  sending.value = 0
  report.value = await lag.takeTable(await file.text(), (share) => (sending.value = share))
  sending.value = null
  field.value = ''
}
const gone = computed(() => readings.value.filter((r) => r.discard).length)
const sure = ref(false)
function remove() {
  sure.value = false
  void lag.removeDiscarded()
}
const toggle = (seq: number, discard: string) => void lag.discard(seq, discard ? '' : 'discarded in the list')
</script>

<template>
  <section v-if="session" aria-label="Readings">
    <p class="row">
      <a :href="`/api/v1/lag/${session.uid}/readings.csv`" download>All {{ session.total }} as CSV</a>
      <template v-if="mayEdit()">
        <label for="csv">or take readings from a CSV file</label>
        <input id="csv" type="file" accept=".csv,text/csv" @change="read" />
      </template>
    </p>
    <p v-if="sending !== null" class="row quiet" role="status">
      {{ sending < 1 ? 'Sending the table' : 'Sent, being read' }}
      <progress :value="sending < 1 ? sending : undefined" max="1" aria-label="How much was sent" />
    </p>
    <div v-if="report" class="plate told" role="status">
      <p>
        <b
          >{{ report.taken }} {{ report.taken === 1 ? 'reading' : 'readings' }} taken,
          {{ report.refused.length }} {{ report.refused.length === 1 ? 'row' : 'rows' }} not.</b
        >
      </p>
      <p v-for="(r, n) in report.refused.slice(0, 20)" :key="n" class="small">
        {{ r.line ? `Line ${r.line}: ` : '' }}{{ sentence(r.why) }}
      </p>
    </div>
    <section v-for="c in session.report.changes" :key="c.condition" class="epochs">
      <h2 :class="{ attn: c.alert }">{{ c.condition }}{{ c.alert ? ' has changed' : ', over time' }}</h2>
      <p class="small">
        <span v-for="e in c.epochs" :key="e.name" class="epoch"
          >{{ e.name }}: <b class="fig">{{ ms(e.lag_ms) }}</b> of {{ e.n }}</span
        >
      </p>
      <p v-for="s in c.sentences" :key="s" class="small quiet">{{ sentence(s) }}</p>
    </section>
    <FigureChart
      v-if="figure"
      :option="figure"
      :label="`${readings.length} readings in the order they came`"
      :height="230"
      :many="readings.length > MANY"
    />
    <table v-if="latest.length" class="plain">
      <thead>
        <tr>
          <th>no</th>
          <th>lag</th>
          <th>of</th>
          <th>how</th>
          <th>when</th>
          <th>counts</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in latest" :key="r.seq" :class="{ gone: r.discard }">
          <td class="fig">{{ r.seq }}</td>
          <td class="fig">
            {{ ms(r.lag_ms)
            }}<template v-if="r.uncertainty_ms"> ± {{ r.uncertainty_ms.toFixed(1) }}</template>
          </td>
          <td>{{ [r.condition, r.input, r.signal, r.position].filter(Boolean).join(', ') }}</td>
          <td>
            <a
              v-if="r.evidence"
              :href="`/api/v1/jobs/${job.view?.uid ?? ''}/photographs/${r.evidence}`"
              target="_blank"
              rel="noopener"
              >{{ r.method }}, its strip</a
            >
            <template v-else>{{ r.method }}</template>
          </td>
          <td>{{ shortTime(r.taken_at, job.view?.time_zone) }}</td>
          <td>
            <button v-if="mayEdit()" class="slight" @click="toggle(r.seq, r.discard)">
              {{ r.discard ? 'take back in' : 'discard' }}<span class="sr"> reading {{ r.seq }}</span>
            </button>
            <small v-if="r.discard">{{ r.discard }}</small>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="session.total > latest.length" class="small quiet">
      The latest {{ latest.length }} of {{ session.total }}.
    </p>
    <p v-if="gone && mayEdit()" class="row small">
      <template v-if="sure">
        Every reading of this session that does not count, for good?
        <button class="attn" @click="remove">Remove for good</button>
        <button autofocus @click="sure = false">Leave them</button>
      </template>
      <button v-else class="slight" @click="sure = true">Remove what was discarded…</button>
    </p>
    <p v-if="!session.total" class="quiet">No reading yet.</p>
  </section>
</template>

<style scoped>
.told {
  padding: 8px 12px;
  margin: 6px 0;
}
.epochs {
  margin: 8px 0;
}
.epoch {
  margin-right: 16px;
}
h2 {
  font-size: 14.5px;
  color: var(--ink);
}
h2.attn {
  color: var(--blocked);
}
tr.gone td {
  color: var(--ink-2);
}
td small {
  display: block;
  color: var(--ink-2);
}
</style>
