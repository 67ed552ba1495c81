<script setup lang="ts">
// The white of each cell: what to set for this room, the curve it was read off, the reading to take next.
import { computed, ref } from 'vue'

import type { LightCell, LightScreen } from '../../api/client'
import FigureChart from '../../shared/FigureChart.vue'
import { useJob } from '../../shared/job'
import { mayEdit } from '../../shared/session'
import CellPick from './CellPick.vue'
import { lightCurve, windowCurve } from './curves'
import MeterBox from './MeterBox.vue'
import ReadingList from './ReadingList.vue'
import { TIMES } from './words'

const props = defineProps<{ light: LightScreen; cell: LightCell | null }>()
const emit = defineEmits<{ cell: [scope: string] }>()
const job = useJob()
const next = computed(() => props.cell?.answers.find((a) => a.next_value !== null)?.next_value ?? null)
const option = computed(() =>
  props.cell ? lightCurve(props.cell, props.light.targets, props.cell.window) : null,
)
const windows = computed(() =>
  props.cell?.dimming && props.cell.dimming.windows.length > 1 ? props.cell.dimming : null,
)
const windowOption = computed(() => (windows.value ? windowCurve(windows.value) : null))
const split = computed(
  () => new Set(props.cell?.answers.map((a) => a.value).filter((v) => v !== null)).size > 1,
)
const busy = ref(false)
async function plan(answer: LightCell['answers'][number]) {
  busy.value = true
  await job.change(answer.ops, `${props.cell?.setting_label} ${answer.value}`)
  busy.value = false
}
</script>

<template>
  <p class="first" role="status"><b>Next:</b> {{ light.first }}</p>
  <CellPick :light="light" :cell="cell" @cell="emit('cell', $event)" />
  <template v-if="cell">
    <ul class="answers">
      <li v-for="a in cell.answers" :key="a.time">
        <b>White {{ TIMES[a.time] }}</b>
        <span v-if="a.value !== null" class="set fig">{{ a.value }}</span>
        <button v-if="a.ops.length && mayEdit()" :disabled="busy" class="go" @click="plan(a)">
          Plan {{ a.value }}
        </button>
        <span v-else-if="a.planned" class="small quiet">✓ planned</span>
        <span class="said">{{ a.said }}</span>
      </li>
      <li v-if="cell.hdr">
        HDR asks for all the light there is: {{ cell.setting_label || 'the panel light' }}
        {{ cell.high ?? 'at its most' }} (common practice); read its peak and its full picture here, its pages
        stand on HDR.
      </li>
      <li v-else-if="!cell.setting">
        The profile of {{ light.label }} names no setting for its light: what is read is kept, and held
        against the room.
      </li>
    </ul>
    <p v-if="split" class="small quiet">
      One preset keeps one value: plan the evening’s here, and give the day a preset of its own, or turn it up
      by hand.
    </p>
    <FigureChart
      v-if="option && !cell.hdr && cell.setting"
      :option="option"
      :height="290"
      :label="`Light of white by ${cell.setting_label}, readings, curve and what the room asks`"
    />
    <MeterBox :light="light" :cell="cell" :next="next" />
    <template v-if="windows && windowOption">
      <h2>Light by the size of the white part</h2>
      <FigureChart :option="windowOption" :height="240" label="Light by window" />
      <p class="small">
        <template v-for="h in windows.held" :key="h.window">
          {{ h.words }} ({{ h.window }} % white): about {{ h.light.toFixed(0) }} cd/m².
        </template>
        <template v-if="windows.keeps_percent !== null">
          A full white picture keeps {{ windows.keeps_percent.toFixed(0) }} % of the brightest patch.
        </template>
        <template v-if="windows.missing.length"> Not read: {{ windows.missing.join(', ') }} %.</template>
      </p>
    </template>
    <ReadingList :readings="cell.readings" />
  </template>
</template>

<style scoped>
.first {
  border-left: 4px solid var(--signal);
  background: var(--signal-soft);
  padding: 6px 12px;
  margin-bottom: 10px;
}
.answers {
  list-style: none;
  padding: 0;
}
.answers li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: baseline;
  margin-bottom: 5px;
}
.said {
  flex: 1 1 320px;
}
.set {
  font-size: 22px;
  color: var(--signal);
}
h2 {
  margin-top: 12px;
}
</style>
