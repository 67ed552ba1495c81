<script setup lang="ts">
// A phone's film as a meter: sent, read, marked, looked at press by press, kept as readings of a cell.
import { computed, defineAsyncComponent, ref, toRef, watch } from 'vue'

import type { FilmMarks, FilmRect } from '../../api/client'
import { tell } from '../../shared/announce'
import { useJob } from '../../shared/job'
import { mayEdit } from '../../shared/session'
import { sentence } from '../../shared/words'
import CellPicker from './CellPicker.vue'
import FilmPresses from './FilmPresses.vue'
import FilmStill from './FilmStill.vue'
import { levels } from './figures'
import { MOST_BYTES, useFilm } from './useFilm'
import PlanPanel from './PlanPanel.vue'
import { usedLag } from './useLag'
import { usePlanned } from './usePlanned'

const FigureChart = defineAsyncComponent(() => import('../../shared/FigureChart.vue'))
const props = defineProps<{ guarded: (run: () => void) => void }>()
const job = useJob()
const lag = usedLag()
const sessionUid = computed(() => lag.session.value?.uid ?? '')
const { film, told, marks, broken, measuring, share, begin, send, leave } = useFilm(toRef(sessionUid))
const RATES = [30, 60, 120, 240, 480, 960]
const { cell, plan, planned, waits } = usePlanned()
type End = 'start' | 'answer' | 'second' | 'strip'
const ENDS: [End, string][] = [
  ['start', 'what starts'],
  ['answer', 'what answers'],
  ['second', 'a second screen'],
  ['strip', 'counter strip'],
]
const WAYS: [FilmMarks['starts'], string][] = [
  ['rise', 'lights up'],
  ['fall', 'darkens'],
  ['both', 'either'],
]
const drawing = ref<End>('start')
const still = ref(0)
const over = ref(false)

// another patch, rate or way gives other presses: what was dropped or moved by hand was of those before
watch(
  () => JSON.stringify([marks.value.start, marks.value.answer, marks.value.starts, marks.value.answers]),
  () => {
    if (marks.value.dropped.length || marks.value.moved.length)
      marks.value = { ...marks.value, dropped: [], moved: [] }
  },
)
function choose(files: FileList | null | undefined) {
  const file = files?.[0]
  if (!file) return
  if (file.size > MOST_BYTES) tell(`${file.name} is larger than 2 GB.`, { bad: true })
  else void begin(file)
}
function pick(event: Event) {
  const field = event.target as HTMLInputElement
  choose(field.files)
  field.value = ''
}
const stills = computed(() => film.value?.stills ?? [])
const stillSrc = computed(
  () => `/api/v1/films/${film.value?.uid ?? ''}/stills/${stills.value[still.value] ?? 0}`,
)
const rect = (r: FilmRect | null | undefined) => r ?? null
const mark = (end: End, r: FilmRect) => (marks.value = { ...marks.value, [end]: r })
const swap = () => {
  const { start, answer } = told.value ?? {}
  marks.value = { ...marks.value, start: rect(answer), answer: rect(start) }
}
const value = (event: Event) => (event.target as HTMLSelectElement).value
const number = (event: Event) => {
  const text = (event.target as HTMLInputElement).value.trim().replace(',', '.')
  return text && Number.isFinite(Number(text)) ? Number(text) : null
}
const accepted = computed(() => told.value?.sum?.n ?? 0)
const counted = (what: string) => told.value?.presses.filter((p) => p.what === what).length ?? 0
const kept = ref('')
const keep = () =>
  props.guarded(() => {
    const uid = film.value?.uid
    const [presses, name] = [accepted.value, cell.value.condition]
    if (!uid || !presses) return
    const body = { ...cell.value, uid: '', marks: marks.value }
    void lag.keepFilm(uid, body).then((done) => {
      if (done) kept.value = `${presses} readings of ${name} kept, with a strip of each press.`
    })
  })
function useSound() {
  const uid = film.value?.uid
  const run = job.run?.uid
  if (!uid || !run) return
  void lag.useSound(uid, { run, condition: cell.value.condition, marks: marks.value }).then((done) => {
    if (done) {
      tell('Kept with what plays the sound; see Chain and sound.')
      job.refresh().catch(() => undefined)
    }
  })
}
const figure = computed(() =>
  told.value?.start_levels || told.value?.answer_levels ? levels(told.value) : null,
)
const percent = computed(() => Math.round(100 * share.value))
</script>

<template>
  <section aria-label="Film">
    <PlanPanel
      v-if="plan"
      :cell="cell"
      :waits="waits"
      :count="0"
      @pick="cell = $event"
      @set="lag.setReady(planned)"
    />
    <template v-if="!film">
      <label
        class="drop plate"
        :class="{ over }"
        @dragover.prevent="over = true"
        @dragleave="over = false"
        @drop.prevent="((over = false), choose($event.dataTransfer?.files))"
      >
        <b>Drop a film here, or choose one</b>
        <span>MP4, MOV, MKV, WebM or AVI, at most 2 GB and 120,000 frames.</span>
        <input id="film" type="file" accept="video/*,.mkv" :disabled="!mayEdit()" @change="pick" />
      </label>
      <ul class="how">
        <li>
          One shot of what starts (a lamp by the button, the finger on it) and of the flash on the screen.
        </li>
        <li>
          120 frames a second or more, held still, exposure locked; film upright or across, as you like.
        </li>
        <li>Ten presses, each held for a third of a second, at no even beat.</li>
        <li>
          With sound, of the probe’s pattern “Channels, and a click with a flash”, sound against picture is
          told as well.
        </li>
      </ul>
    </template>

    <div v-else-if="film.state !== 'ready'" class="plate going" role="status">
      <p v-if="film.state === 'failed'" class="attn" role="alert">{{ film.name }}: {{ film.message }}.</p>
      <p v-else-if="broken" class="attn" role="alert">Sending stopped at {{ percent }} %: {{ broken }}</p>
      <p v-else>
        {{ film.state === 'arriving' ? `Sending ${film.name}` : `Reading ${film.name}` }}: {{ percent }} %
        <span v-if="film.of && film.state === 'reading'" class="fig quiet"
          >{{ film.done }} of about {{ film.of }} frames</span
        >
      </p>
      <progress v-if="film.state !== 'failed'" :value="share" max="1" aria-label="How far the film is" />
      <p class="row">
        <button v-if="broken" class="go" @click="send">Go on</button>
        <button @click="leave">{{ film.state === 'failed' ? 'Another film' : 'Cancel' }}</button>
      </p>
    </div>

    <template v-else>
      <div class="marked">
        <div>
          <FilmStill
            :src="stillSrc"
            :ratio="film.width / film.height"
            :start="rect(told?.start)"
            :answer="rect(told?.answer)"
            :second="rect(marks.second)"
            :strip="rect(marks.strip)"
            :drawing="drawing"
            @mark="mark"
          />
          <p class="row small">
            <span role="group" aria-label="What a drag marks" class="row picks">
              drag marks
              <button
                v-for="[end, name] in ENDS"
                :key="end"
                :class="{ on: drawing === end }"
                :aria-pressed="drawing === end"
                @click="drawing = end"
              >
                {{ name }}
              </button>
            </span>
            <button v-if="told?.start && told.answer" @click="swap">Swap</button>
            <label v-if="stills.length > 1" class="row"
              >still
              <input
                v-model.number="still"
                type="range"
                min="0"
                :max="stills.length - 1"
                aria-label="Which still"
            /></label>
          </p>
        </div>
        <div v-if="told" class="facts">
          <p class="big fig" data-test="film-lag">
            {{ told.sum ? told.sum.lag_ms.toFixed(1) : '–'
            }}<small v-if="told.sum">ms, {{ told.sum.of }} of {{ told.sum.n }}</small>
          </p>
          <p>
            {{ counted('read') }} presses read<template v-if="counted('missed')"
              >, {{ counted('missed') }} not answered</template
            ><template v-if="counted('unasked')"
              >, {{ counted('unasked') }} answers nobody asked for</template
            >
            <span v-if="measuring" class="quiet"> · measuring anew</span>
          </p>
          <p class="row">
            <label for="film-rate">taken at</label>
            <select
              id="film-rate"
              :value="marks.taken_fps ?? ''"
              @change="marks = { ...marks, taken_fps: number($event) }"
            >
              <option value="">{{ told.clock.stored_fps.toFixed(2) }} a second, as stored</option>
              <option v-for="r in RATES" :key="r" :value="r">{{ r }} a second</option>
            </select>
          </p>
          <p class="small" :class="told.clock.borne === 'no' ? 'attn' : 'quiet'">
            {{ sentence(told.clock.words) }}
          </p>
          <p class="row small">
            <label for="film-starts">starts:</label>
            <select
              id="film-starts"
              :value="marks.starts"
              @change="marks = { ...marks, starts: value($event) as FilmMarks['starts'] }"
            >
              <option v-for="[way, name] in WAYS" :key="way" :value="way">{{ name }}</option>
            </select>
            <label for="film-answers">answers:</label>
            <select
              id="film-answers"
              :value="marks.answers"
              @change="marks = { ...marks, answers: value($event) as FilmMarks['answers'] }"
            >
              <option v-for="[way, name] in WAYS" :key="way" :value="way">{{ name }}</option>
            </select>
          </p>
          <p class="row small">
            <label for="film-readout">read-out, first row to last</label>
            <input
              id="film-readout"
              class="short"
              :value="marks.readout_ms ?? ''"
              placeholder="not known"
              @change="marks = { ...marks, readout_ms: number($event) }"
            />
            ms
          </p>
          <ul class="small notes">
            <li v-for="n in told.notes" :key="n">{{ n }}</li>
            <li v-if="film.cut" class="attn">The film is longer than is read: its end is left out.</li>
          </ul>
          <p v-if="told.second" class="small" data-test="film-second">{{ told.second.words }}</p>
          <template v-if="told.sound">
            <p class="small">{{ told.sound.words }}</p>
            <p class="row small">
              <label for="film-metres">microphone</label>
              <input
                id="film-metres"
                class="short"
                :value="marks.metres"
                @change="marks = { ...marks, metres: number($event) ?? 0 }"
              />
              m from the speaker
              <button v-if="mayEdit() && job.run" @click="useSound">Use it for {{ job.run.label }}</button>
            </p>
          </template>
          <p v-else-if="film.sound" class="small quiet">Its sound holds no clicks beside the flashes.</p>
          <template v-if="told.cadence">
            <p class="small">{{ told.cadence.words }}</p>
            <p class="row small">
              <label for="film-counter">the counter says it runs at</label>
              <input
                id="film-counter"
                class="short"
                :value="marks.counter_hz ?? ''"
                placeholder="not said"
                @change="marks = { ...marks, counter_hz: number($event) }"
              />
              Hz
            </p>
          </template>
        </div>
      </div>
      <FigureChart
        v-if="figure"
        :option="figure"
        label="Light of both patches over time"
        :height="150"
        many
      />
      <template v-if="told">
        <p v-if="!told.proposed.length && !marks.start" class="attn">
          Nothing was found that turns on and off by itself: mark what starts and what answers.
        </p>
        <p v-else-if="!marks.start && !marks.answer" class="small quiet">
          The patches are proposed: what turned first, and what turned after it. Drag to mark others.
        </p>
        <FilmPresses v-model="marks" :film="film.uid" :told="told" />
        <div v-if="mayEdit()" class="plate keep">
          <CellPicker v-if="!plan" v-model="cell" />
          <p v-else>{{ cell.condition }}</p>
          <p class="row">
            <button class="go" :disabled="!accepted || !told.start || !told.answer" @click="keep">
              Keep {{ accepted }} {{ accepted === 1 ? 'reading' : 'readings' }}
            </button>
            <button @click="leave">Another film</button>
            <span role="status">{{ kept }}</span>
            <span class="small quiet">A strip of each press is kept, the film is not.</span>
          </p>
        </div>
      </template>
    </template>
  </section>
</template>

<style scoped>
.drop {
  display: grid;
  gap: 6px;
  justify-items: center;
  padding: 34px 16px;
  border: 2px dashed var(--rule-strong);
  cursor: pointer;
}
.drop.over {
  border-color: var(--signal);
  background: var(--signal-soft);
}
.how {
  margin: 12px 0;
  padding-left: 20px;
  max-width: 760px;
}
.going,
.keep {
  padding: 10px 14px;
}
.keep {
  margin-top: 10px;
}
progress {
  width: 100%;
}
.marked {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(240px, 2fr);
  gap: 16px;
  margin-bottom: 8px;
}
.big {
  font-size: 40px;
  font-weight: 600;
  line-height: 1.15;
}
.big small {
  font-size: 15px;
  font-weight: 400;
  margin-left: 8px;
  color: var(--ink-2);
}
.notes {
  padding-left: 18px;
  margin: 4px 0;
}
.short {
  width: 84px;
}
@media (max-width: 760px) {
  .marked {
    grid-template-columns: 1fr;
  }
}
</style>
