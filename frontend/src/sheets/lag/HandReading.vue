<script setup lang="ts">
// A reading without the meter: typed, counted off a film, read off a picture of two counters, or guessed.
import { ref } from 'vue'

import type { LagCell } from '../../api/client'
import { usedLag } from './useLag'

const props = defineProps<{ cell: LagCell; guarded: (run: () => void) => void }>()
type Method = 'typed' | 'camera' | 'reference' | 'guess'
const METHODS: [Method, string][] = [
  ['typed', 'typed'],
  ['camera', 'camera frames'],
  ['reference', 'two counters'],
  ['guess', 'a guess'],
]
const lag = usedLag()
const method = ref<Method>('typed')
const typed = ref('')
const frames = ref('')
const fps = ref('240')
const off = ref('0')
const reference = ref('')
const screen = ref('')
const hz = ref('60')
const figure = (text: string) => Number(text.replace(',', '.'))

const keep = () =>
  props.guarded(() => {
    const bodies = {
      typed: { lag_ms: figure(typed.value) },
      guess: { lag_ms: figure(typed.value) },
      camera: {
        frames: Math.round(figure(frames.value)),
        camera_fps: figure(fps.value),
        camera_fps_off: figure(off.value),
      },
      reference: {
        reference_ms: figure(reference.value),
        screen_ms: figure(screen.value),
        refresh_hz: figure(hz.value),
      },
    }
    void lag
      .keep(props.cell, { method: method.value, camera_fps_off: 0, ...bodies[method.value] })
      .then((kept) => {
        if (kept) for (const field of [typed, frames, reference, screen]) field.value = ''
      })
  })
</script>

<template>
  <form class="row hand" @submit.prevent="keep">
    <label for="method">or by hand</label>
    <select id="method" v-model="method">
      <option v-for="[id, name] in METHODS" :key="id" :value="id">{{ name }}</option>
    </select>
    <template v-if="method === 'typed' || method === 'guess'">
      <label for="typed">ms</label>
      <input
        id="typed"
        v-model="typed"
        inputmode="decimal"
        class="short"
        required
        pattern="[0-9]+([.,][0-9]+)?"
      />
    </template>
    <template v-else-if="method === 'camera'">
      <label for="frames">frames from act to light</label>
      <input id="frames" v-model="frames" inputmode="numeric" class="short" required pattern="[0-9]+" />
      <label for="fps">at</label>
      <input
        id="fps"
        v-model="fps"
        inputmode="decimal"
        class="short"
        required
        pattern="[0-9]+([.,][0-9]+)?"
      />
      <span class="small">frames/s ±</span>
      <label class="sr" for="fps-off">how far the camera’s rate may be off</label>
      <input id="fps-off" v-model="off" inputmode="decimal" class="tiny" pattern="[0-9]+([.,][0-9]+)?" />
    </template>
    <template v-else>
      <label for="reference">reference, ms</label>
      <input id="reference" v-model="reference" inputmode="decimal" class="short" required />
      <label for="screen-ms">screen, ms</label>
      <input id="screen-ms" v-model="screen" inputmode="decimal" class="short" required />
      <label for="hz">at</label>
      <input id="hz" v-model="hz" inputmode="decimal" class="tiny" required />
      <span class="small">Hz</span>
      <a href="/counter" target="_blank" rel="noopener">Counter</a>
    </template>
    <button type="submit">Keep</button>
    <span v-if="method === 'guess'" class="small quiet">marked as a guess, never mixed with readings</span>
  </form>
</template>

<style scoped>
.hand {
  margin-top: 8px;
  border-top: 1px solid var(--rule);
  padding-top: 8px;
}
.short {
  width: 74px;
}
.tiny {
  width: 52px;
}
</style>
