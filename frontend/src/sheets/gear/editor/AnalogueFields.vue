<script setup lang="ts">
// An analogue socket: the signals it sends, typed as people know them, or the scan rates it takes and how.
import { ref } from 'vue'

import { api, ask, Problem } from '../../../api/client'
import type { GearWords, PortPart, ScanPart, TakesPart } from './draft'
import ScanRow from './ScanRow.vue'
import TakesRow from './TakesRow.vue'

defineProps<{ words: GearWords }>()
const port = defineModel<PortPart>('port', { required: true })
const text = ref('')
const fault = ref('')
const guessed = ref('')
// the two scan rates nearly everything has: a television's and a computer's
const [TELEVISION, COMPUTER]: [TakesPart, TakesPart] = [
  { line_khz: [15.5, 16], hz: [49, 62] },
  { line_khz: [31, 32], hz: [49, 72] },
]

async function add() {
  fault.value = guessed.value = ''
  try {
    const read = await ask(api.POST('/api/v1/gear/scan', { body: { text: text.value } }))
    port.value.sends = [...(port.value.sends ?? []), read.scan as unknown as ScanPart]
    guessed.value = read.guessed
    text.value = ''
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    fault.value = problem.detail
  }
}
function keep(sends: ScanPart[]) {
  if (sends.length) port.value.sends = sends
  else Reflect.deleteProperty(port.value, 'sends')
}
function replaceScan(n: number, scan: ScanPart) {
  keep((port.value.sends ?? []).map((s, at) => (at === n ? scan : s)))
}
function usual(n: number) {
  const sends = [...(port.value.sends ?? [])]
  const [moved] = sends.splice(n, 1)
  if (moved) keep([moved, ...sends])
}
function take(range: TakesPart) {
  port.value.takes = [...(port.value.takes ?? []), JSON.parse(JSON.stringify(range)) as TakesPart]
}
function replaceRange(n: number, range: TakesPart | null) {
  const takes = (port.value.takes ?? []).flatMap((t, at) => (at === n ? (range ? [range] : []) : [t]))
  if (takes.length) port.value.takes = takes
  else Reflect.deleteProperty(port.value, 'takes')
}
</script>

<template>
  <div v-if="port.direction === 'out'" class="part">
    <h3>Signals it sends</h3>
    <ol>
      <ScanRow
        v-for="(s, n) in port.sends ?? []"
        :key="`${n}${JSON.stringify(s)}`"
        :model-value="s"
        :words="words"
        :plug="port.connector ?? ''"
        :first="n === 0"
        @update:model-value="replaceScan(n, $event)"
        @remove="keep((port.sends ?? []).filter((_, at) => at !== n))"
        @first="usual(n)"
      />
    </ol>
    <form class="row" @submit.prevent="add">
      <input
        v-model="text"
        maxlength="120"
        aria-label="A signal, by name or by its figures"
        placeholder="480i, 640x480@60, or 5.3693 MHz 341.25 dots 262 lines 256x224"
      />
      <button :disabled="!text.trim()">Add signal</button>
    </form>
    <p v-if="fault" class="attn small" role="alert">{{ fault }}</p>
    <p v-if="guessed" class="small" role="status">A guess stands in for {{ guessed }}.</p>
  </div>
  <div v-else class="part">
    <h3>Scan rates it takes</h3>
    <p v-if="!port.takes" class="small">Nobody knows yet.</p>
    <TakesRow
      v-for="(t, n) in port.takes ?? []"
      :key="n"
      :model-value="t"
      :words="words"
      :plug="port.connector ?? ''"
      @update:model-value="replaceRange(n, $event)"
      @remove="replaceRange(n, null)"
    />
    <div class="row">
      <button class="small" @click="take(TELEVISION)">+ 15 kHz</button>
      <button class="small" @click="take(COMPUTER)">+ 31 kHz</button>
    </div>
  </div>
</template>

<style scoped>
.part {
  margin-top: 8px;
}
h3 {
  font-size: 13.5px;
  margin: 0 0 2px;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
form input {
  flex: 1;
  min-width: 220px;
}
.row {
  margin-top: 6px;
}
.attn {
  color: var(--blocked);
}
</style>
