<script setup lang="ts">
// A picture made for being photographed: a count of frames, milliseconds, and a bar that steps once a frame.
// The same page on two screens at once: the difference of what one photograph shows is their difference in lag.
import { computed, onBeforeUnmount, ref } from 'vue'

const STEPS = 10
const SPAN_MS = 100_000
const SETTLE = 30
const running = ref(false)
const frame = ref(0)
const shown = ref(0)
const hz = ref(0)
let handle = 0
let start = 0
let frames: number[] = []

function step(now: number) {
  frame.value++
  shown.value = (now - start) % SPAN_MS
  frames = [...frames.slice(-SETTLE), now]
  const first = frames[0] ?? now
  if (frames.length > SETTLE) hz.value = Math.round((1000 * SETTLE) / (now - first))
  handle = requestAnimationFrame(step)
}
function begin() {
  running.value = true
  void document.documentElement.requestFullscreen?.().catch(() => undefined)
  handle = requestAnimationFrame((now) => {
    start = now
    step(now)
  })
}
function end() {
  cancelAnimationFrame(handle)
  running.value = false
  frame.value = 0
  if (document.fullscreenElement) void document.exitFullscreen()
}
onBeforeUnmount(() => cancelAnimationFrame(handle))
// The count for a film to be read by: white, black, ten cells of reflected binary code, and whether an odd number is lit
// (core/film/strip.py reads it).
const BITS = 10
const cells = computed(() => {
  const count = frame.value % 2 ** BITS
  const gray = count ^ (count >> 1)
  const bits = Array.from({ length: BITS }, (_, n) => (gray >> (BITS - 1 - n)) & 1)
  return [1, 0, ...bits, bits.reduce((a, b) => a ^ b, 0)]
})
const digits = (value: number, width: number) => value.toFixed(1).padStart(width, '0')
</script>

<template>
  <main class="counter" :class="{ running }">
    <template v-if="!running">
      <h1>Counter for the camera</h1>
      <p>
        Show this page on a reference screen and on the screen in question, fed from the same source.
        Photograph both in one picture with a short exposure, several times. Type what each reads, in ms, on
        the lag bench.
      </p>
      <p>
        Filmed at twice its rate or more, the strip below the bar tells the lag bench which frames were shown
        twice, which were missed, and the real rate: mark it there edge to edge.
      </p>
      <p>
        It changes at the display’s own rate: quick changes of the picture can bring on seizures in people
        with
        <b>photosensitive epilepsy</b>. Warn everybody; look away if it troubles you.
      </p>
      <button class="go" autofocus @click="begin">Start the counter</button>
    </template>
    <template v-else>
      <p class="ms fig" data-test="counter">{{ digits(shown, 7) }}<small>ms</small></p>
      <div class="bar" aria-hidden="true">
        <i v-for="n in STEPS" :key="n" :class="{ on: (frame % STEPS) + 1 === n }"
          ><b>{{ n - 1 }}</b></i
        >
      </div>
      <div class="strip" :data-frame="frame" aria-hidden="true">
        <i v-for="(lit, n) in cells" :key="n" :class="{ on: lit }"></i>
      </div>
      <p class="foot fig">
        frame {{ String(frame).padStart(6, '0') }}<span v-if="hz"> · {{ hz }} Hz</span>
        <button @click="end">End</button>
      </p>
    </template>
  </main>
</template>

<style scoped>
.counter {
  min-height: 100vh;
  padding: 6vh 6vw;
  display: grid;
  align-content: center;
  gap: 14px;
}
.counter > p {
  max-width: 640px;
}
.counter > .go {
  justify-self: start;
}
.running {
  background: #000;
  color: #fff;
  gap: 5vh;
}
.running > p {
  max-width: none;
}
.ms {
  font-size: 19vw;
  font-weight: 600;
  line-height: 1;
  text-align: center;
}
.ms small {
  font-size: 4vw;
  margin-left: 1vw;
  color: #bbb;
}
.bar {
  display: grid;
  grid-template-columns: repeat(10, 1fr);
  height: 24vh;
  border: 2px solid #fff;
}
.bar i {
  display: grid;
  place-items: end center;
  border-right: 1px solid #777;
  font-style: normal;
}
.strip {
  display: grid;
  grid-template-columns: repeat(13, 1fr);
  height: 12vh;
  outline: 1px solid #777;
}
.strip i.on {
  background: #fff;
}
.bar i.on {
  background: #fff;
}
.bar b {
  font: 600 3vw var(--figure);
  color: #888;
}
.bar .on b {
  color: #000;
}
.foot {
  display: flex;
  gap: 1em;
  align-items: center;
  justify-content: center;
  font-size: 2.4vw;
  color: #bbb;
}
</style>
