<script setup lang="ts">
// What is asked: two ends, the lead between them, the signal.
import { computed, ref, watch } from 'vue'

import type { Row } from '../../api/client'
import { useChoices, withValue } from '../../shared/choices'
import PickList from '../../shared/PickList.vue'
import TickBox from '../../shared/TickBox.vue'
import type { Question } from './question'

const props = defineProps<{ question: Question; rows: Row[] }>()
const emit = defineEmits<{ set: [change: Partial<Question>] }>()
const choices = useChoices()
const DEPTHS = ['8', '10', '12'].map((b) => ({ id: b, name: `${b}-bit` }))
const USUAL = '8x340' // what an old address means by compression
const directed = computed(() => ['active', 'optical'].includes(props.question.build))
const more = ref(false)
const moreSet = computed(() =>
  [props.question.build !== 'unknown', props.question.proved, props.question.failed].some(Boolean),
)
const rate = (value: string) => (value ? withValue(choices.value.rates, value) : choices.value.rates)
// What the sending end is decides which leads and which rates of them there are.
const kind = computed(() => {
  const way = props.question.out.split(':')[0] ?? ''
  return way === 'tmds' || way === 'frl' ? 'hdmi' : way
})
const grades = computed(() => choices.value.grades.filter((g) => g.kinds.includes(kind.value)))
const proofs = (value: string) => {
  const list = choices.value.rates.filter((r) => r.kinds.includes(kind.value))
  return value ? withValue(list, value) : list
}
function setOut(value: string) {
  const now = kind.value
  const [way = ''] = value.split(':')
  const then = way === 'tmds' || way === 'frl' ? 'hdmi' : way
  const fits = now === then || (now === 'usbc' && then === 'dp')
  emit('set', fits ? { out: value } : { out: value, inp: value, grade: 'unread', proved: '', failed: '' })
}
const set = (key: keyof Question, value: string) => emit('set', { [key]: value })
const typed = ref(props.question.timing)
watch(
  () => props.question.timing,
  (timing) => {
    if (document.activeElement?.id !== 'timing') typed.value = timing // never under the typing hand
  },
)
function setTiming() {
  if (typed.value.trim()) set('timing', typed.value.trim())
  else typed.value = props.question.timing
}
const given = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <div class="ask">
    <fieldset>
      <legend>Link</legend>
      <div class="fields">
        <PickList
          id="out"
          label="Sending end"
          :list="rate(question.out)"
          :value="question.out"
          @pick="setOut"
        />
        <PickList
          id="grade"
          label="Lead"
          :list="withValue(grades, question.grade)"
          :value="question.grade"
          @pick="set('grade', $event)"
        />
        <span class="field">
          <label for="m">Length, m</label>
          <input
            id="m"
            class="short"
            inputmode="decimal"
            :value="question.m"
            @change="set('m', given($event))"
          />
        </span>
        <PickList
          id="inp"
          label="Receiving end"
          :list="rate(question.inp)"
          :value="question.inp"
          @pick="set('inp', $event)"
        />
        <button class="slight" :aria-expanded="more || moreSet" @click="more = !more">
          More of the lead
        </button>
        <template v-if="more || moreSet">
          <PickList
            id="build"
            label="Made as"
            :list="choices.builds"
            :value="question.build"
            @pick="set('build', $event)"
          />
          <PickList
            v-if="directed"
            id="power"
            label="Its power"
            :list="choices.powers"
            :value="question.power"
            @pick="set('power', $event)"
          />
          <PickList
            id="proved"
            label="Proved here to"
            none="nothing"
            :list="proofs(question.proved)"
            :value="question.proved"
            @pick="set('proved', $event)"
          />
          <PickList
            id="failed"
            label="Failed here at"
            none="nothing"
            :list="proofs(question.failed)"
            :value="question.failed"
            @pick="set('failed', $event)"
          />
          <TickBox v-if="directed" :checked="question.turned === '1'" @set="set('turned', $event ? '1' : '')"
            >wrong way round</TickBox
          >
        </template>
      </div>
    </fieldset>
    <fieldset>
      <legend>Signal</legend>
      <div class="fields">
        <span class="field">
          <label for="timing">Timing</label>
          <input id="timing" v-model="typed" list="timings" @change="setTiming" />
        </span>
        <PickList
          id="encoding"
          label="Encoding"
          :list="choices.encodings"
          :value="question.encoding"
          @pick="set('encoding', $event)"
        />
        <PickList id="bits" label="Depth" :list="DEPTHS" :value="question.bits" @pick="set('bits', $event)" />
        <PickList
          id="audio"
          label="Sound"
          :list="withValue(choices.audio, question.audio)"
          :value="question.audio"
          @pick="set('audio', $event)"
        />
        <PickList
          id="derived"
          label="Sent"
          :list="choices.derived"
          :value="question.derived"
          @pick="set('derived', $event)"
        />
        <PickList
          id="dsc"
          label="Compression"
          none="not allowed"
          :list="choices.slices"
          :value="question.dsc === '1' ? USUAL : question.dsc"
          @pick="set('dsc', $event)"
        />
        <template v-if="question.dsc && kind === 'hdmi'">
          <PickList
            id="bpp"
            label="Bits a pixel"
            none="12 at most"
            :list="[{ id: 'all', name: 'any' }]"
            :value="question.bpp"
            @pick="set('bpp', $event)"
          />
          <span class="field">
            <label for="chunk">Bytes a line, field n</label>
            <input
              id="chunk"
              class="short"
              inputmode="numeric"
              placeholder="none"
              :value="question.chunk"
              @change="set('chunk', given($event).trim())"
            />
          </span>
        </template>
      </div>
    </fieldset>
    <datalist id="timings">
      <option v-for="r in rows" :key="r.timing" :value="r.timing">{{ r.name }}</option>
    </datalist>
  </div>
</template>

<style scoped>
.ask {
  display: grid;
  gap: 6px;
  margin-bottom: 14px;
}
fieldset {
  border: 0;
  padding: 0;
  min-width: 0;
  display: flex;
}
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: end;
}
legend {
  float: left;
  flex: 0 0 56px;
  align-self: start;
  font-size: 13px;
  font-weight: 650;
  color: var(--ink-2);
  padding: 27px 0 0;
}
.field {
  display: grid;
}
.short {
  width: 64px;
}
#timing {
  width: 210px;
}
button.slight {
  min-height: 32px;
}
</style>
