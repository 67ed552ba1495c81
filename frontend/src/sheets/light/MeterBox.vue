<script setup lang="ts">
// A reading: what stands before the meter, the light live until it settles, kept by one key; or typed, or by eye.
import { computed, onMounted, ref, watch } from 'vue'

import type { LightCell, LightNote, LightScreen } from '../../api/client'
import { useKeys } from '../../shared/keys'
import { mayEdit } from '../../shared/session'
import { usedLight } from './useLight'
import { cd, figure, noteOf, WINDOWS } from './words'

const props = defineProps<{ light: LightScreen; cell: LightCell; next: string | null }>()
const { meters, moment, before, kept, watch: watchMeter, stop, note } = usedLight()
const value = ref('')
const windowPercent = ref(props.cell.hdr ? 10 : props.cell.window)
const signal = ref('100')
const warmth = ref('')
const typed = ref('')
const eye = ref(false)
const most = computed(() => String(props.cell.high ?? ''))
function figures() {
  const percent = figure(signal.value)
  const signal_e4 = Number.isFinite(percent) ? Math.min(Math.max(Math.round(percent * 100), 0), 10000) : 10000
  return { window_percent: windowPercent.value, signal_e4 }
}

// The value asked for next stands there already; the meter is told what stands before it.
watch(
  () => [props.cell.scope, props.next] as const,
  () => {
    const answered = props.cell.answers.find((a) => a.value !== null)?.value
    const stands = props.cell.plan ?? props.cell.found ?? answered ?? value.value
    value.value = props.next ?? (props.cell.hdr ? most.value : stands)
  },
  { immediate: true },
)
watch(
  () => props.cell.scope,
  () => (windowPercent.value = props.cell.window),
)
watch(
  () => [value.value, windowPercent.value, signal.value, warmth.value, props.cell.scope, props.light.device],
  () => {
    const { window_percent, signal_e4 } = figures()
    const { device } = props.light
    before.value = {
      device,
      scope: props.cell.scope,
      value: value.value,
      window_percent,
      signal_e4,
      warmth: warmth.value,
    }
  },
  { immediate: true },
)
// What it was set to must be said, or the reading could stand in no curve.
const unsaid = computed(() => !!props.cell.setting && !value.value.trim())
onMounted(() => {
  const first = meters.value[0]
  if (first && mayEdit() && !moment.value) watchMeter(first)
})

const base = (): LightNote =>
  noteOf('patch', props.light.device, {
    scope: props.cell.scope,
    value: props.cell.setting ? value.value.trim() : '',
    figures: figures(),
    warmth: warmth.value,
  })
const words = (light: number) =>
  `Kept: ${props.cell.setting ? `${props.cell.setting_label} ${value.value}, ` : ''}${cd(light)} cd/m².`
function keepMeter() {
  const seen = moment.value
  if (!mayEdit() || !seen?.settled || seen.light === null || unsaid.value) return
  void note([{ ...base(), method: 'meter', meter: seen.meter, ref: seen.ref }], words(seen.light))
}
function keepTyped() {
  const light = figure(typed.value)
  if (!typed.value || !Number.isFinite(light) || unsaid.value) return
  const made = base()
  const read = { ...made.figures, luminance_ucd_m2: Math.round(light * 1e6) }
  void note([{ ...made, figures: read, method: eye.value ? 'eye' : 'typed' }], words(light)).then((done) => {
    if (done) typed.value = ''
  })
}
useKeys([{ key: 'K', does: 'Keep the settled reading', run: keepMeter }])
</script>

<template>
  <section v-if="mayEdit()" class="meter" aria-label="A reading">
    <div class="row set">
      <label v-if="cell.setting" class="field">
        {{ cell.setting_label }} set to
        <input v-model="value" class="short fig" inputmode="decimal" aria-label="Value set" />
      </label>
      <label class="field">
        Window
        <select v-model.number="windowPercent" aria-label="Window">
          <option v-for="w in WINDOWS" :key="w" :value="w">{{ w }} %</option>
        </select>
      </label>
      <label class="field">
        Signal, %
        <input v-model="signal" class="short fig" inputmode="decimal" aria-label="Signal" />
      </label>
      <label v-if="light.warmths.length" class="field">
        Colour temperature
        <select v-model="warmth" aria-label="Colour temperature">
          <option value="">as noted</option>
          <option v-for="w in light.warmths" :key="w.id" :value="w.id">{{ w.label }}</option>
        </select>
      </label>
    </div>
    <div class="live">
      <template v-if="moment">
        <p class="now fig" :class="{ settled: moment.settled }" aria-live="off">
          {{ moment.light === null ? '—' : cd(moment.light) }} <small>cd/m²</small>
        </p>
        <p class="state" role="status">
          <template v-if="moment.settled">
            <b>✓ settled</b>, ± {{ moment.error_percent?.toFixed(1) }} %<template v-if="moment.x !== null">
              · x {{ moment.x.toFixed(4) }}, y {{ moment.y?.toFixed(4) }}</template
            >
          </template>
          <template v-else>{{ moment.message || 'Looking…' }}</template>
        </p>
        <button class="go" :disabled="!moment.settled || unsaid" @click="keepMeter">
          Keep this <kbd>K</kbd>
        </button>
        <span v-if="unsaid && moment.settled" class="small"
          >Say what {{ cell.setting_label }} is set to.</span
        >
        <button v-if="moment.state === 'failed'" @click="watchMeter(moment.meter)">Look again</button>
        <button v-else class="slight" @click="stop">Let the meter go</button>
      </template>
      <template v-else-if="meters.length">
        <button v-for="m in meters" :key="m" @click="watchMeter(m)">Look with {{ m }}</button>
      </template>
      <p v-else class="small quiet">No light meter is set up here: type what yours shows.</p>
    </div>
    <form class="row hand" @submit.prevent="keepTyped">
      <label for="light-typed">or typed, cd/m²</label>
      <input id="light-typed" v-model="typed" class="short fig" inputmode="decimal" />
      <label class="row"><input v-model="eye" type="checkbox" /> only by eye: a guess</label>
      <button :disabled="unsaid">Keep</button>
      <span v-if="kept" class="small quiet">{{ kept }}</span>
    </form>
  </section>
</template>

<style scoped>
.meter {
  background: var(--plate);
  border: 1px solid var(--rule-strong);
  padding: 10px 14px;
  margin: 10px 0 14px;
}
.field {
  display: flex;
  align-items: center;
  gap: 6px;
}
.row {
  flex-wrap: wrap;
  gap: 6px 14px;
}
.short {
  width: 76px;
}
.live {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 16px;
  margin: 10px 0;
  min-height: 44px;
}
.now {
  font-size: 30px;
  line-height: 1.1;
  min-width: 168px;
  color: var(--ink-2);
}
.now.settled {
  color: var(--ink);
}
.now small {
  font-size: 14px;
}
.state {
  min-width: 220px;
}
.hand label.row {
  display: flex;
  gap: 5px;
  align-items: center;
}
</style>
