<script setup lang="ts">
// A still of the film with two patches on it, drawn by dragging: what starts, and what answers.
import { computed, ref } from 'vue'

import type { FilmRect } from '../../api/client'

type End = 'start' | 'answer' | 'second' | 'strip'
const props = defineProps<{
  src: string
  ratio: number
  start: FilmRect | null
  answer: FilmRect | null
  second: FilmRect | null
  strip: FilmRect | null
  drawing: End
}>()
const emit = defineEmits<{ mark: [end: End, rect: FilmRect] }>()
const NAMES: Record<End, string> = {
  start: 'starts',
  answer: 'answers',
  second: 'second screen',
  strip: 'strip',
}
const LEAST = 0.008
const box = ref<HTMLElement>()
const from = ref<[number, number] | null>(null)
const to = ref<[number, number]>([0, 0])

const shown = computed(() =>
  (['start', 'answer', 'second', 'strip'] as const).flatMap((end) => {
    const rect = from.value && props.drawing === end ? drawn.value : props[end]
    return rect ? [{ end, rect }] : []
  }),
)
const drawn = computed<FilmRect | null>(() => {
  if (!from.value) return null
  const [x, y] = [Math.min(from.value[0], to.value[0]), Math.min(from.value[1], to.value[1])]
  return { x, y, width: Math.abs(from.value[0] - to.value[0]), height: Math.abs(from.value[1] - to.value[1]) }
})
function at(event: PointerEvent): [number, number] {
  const r = box.value?.getBoundingClientRect()
  if (!r) return [0, 0]
  const within = (v: number) => Math.min(1, Math.max(0, v))
  return [within((event.clientX - r.left) / r.width), within((event.clientY - r.top) / r.height)]
}
function down(event: PointerEvent) {
  if (event.button) return
  box.value?.setPointerCapture(event.pointerId)
  from.value = to.value = at(event)
}
function move(event: PointerEvent) {
  if (from.value) to.value = at(event)
}
function up() {
  const rect = drawn.value
  from.value = null
  if (rect && rect.width > LEAST && rect.height > LEAST) emit('mark', props.drawing, rect)
}
const percent = (v: number) => `${100 * v}%`
</script>

<template>
  <div
    ref="box"
    class="still"
    :style="{ aspectRatio: String(ratio) }"
    @pointerdown="down"
    @pointermove="move"
    @pointerup="up"
    @pointercancel="from = null"
  >
    <img :src="src" alt="A still of the film" draggable="false" />
    <i
      v-for="s in shown"
      :key="s.end"
      :class="s.end"
      :style="{
        left: percent(s.rect.x),
        top: percent(s.rect.y),
        width: percent(s.rect.width),
        height: percent(s.rect.height),
      }"
      ><b>{{ NAMES[s.end] }}</b></i
    >
  </div>
</template>

<style scoped>
.still {
  position: relative;
  touch-action: none;
  cursor: crosshair;
  border: 1px solid var(--rule-strong);
  user-select: none;
}
img {
  width: 100%;
  height: 100%;
  display: block;
}
i {
  position: absolute;
  pointer-events: none;
  outline: 2px solid #fff;
  border: 2px solid #000;
}
i.answer {
  border-style: dashed;
}
i.strip {
  border-style: dotted;
}
b {
  position: absolute;
  left: -2px;
  top: -2px;
  background: #000;
  color: #fff;
  font: 600 12px/1.3 var(--body, sans-serif);
  padding: 0 5px;
}
</style>
