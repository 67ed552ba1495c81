<script setup lang="ts">
// Every press of a film: its strips, its lag, to accept, move or drop; one in hand, by keys.
import { computed, nextTick, ref, watch } from 'vue'

import type { FilmMarks, FilmTold } from '../../api/client'
import { useKeys } from '../../shared/keys'

type Press = FilmTold['presses'][number]
const props = defineProps<{ film: string; told: FilmTold }>()
const marks = defineModel<FilmMarks>({ required: true })
const dropped = computed(() => marks.value.dropped)
const now = ref(0)
const WHAT = { read: '', missed: 'nothing answered', unasked: 'nothing started it' }

const by = (n: number, end: 'start' | 'answer') =>
  marks.value.moved.find((m) => m.press === n && m.end === end)?.frames ?? 0
const src = (frame: number) => `/api/v1/films/${props.film}/strips/${frame}`
const frameOf = (p: Press, end: 'start' | 'answer') => {
  const own = end === 'start' ? p.start_frame : p.answer_frame
  return own === null ? null : own + by(p.n, end)
}
watch(
  () => props.told,
  () => (now.value = Math.min(now.value, Math.max(0, props.told.presses.length - 1))),
)

function go(step: number) {
  now.value = Math.min(props.told.presses.length - 1, Math.max(0, now.value + step))
  void nextTick(() => document.querySelector('.presses .now')?.scrollIntoView({ block: 'nearest' }))
}
function move(end: 'start' | 'answer', frames: number) {
  const p = props.told.presses[now.value]
  if (p?.what !== 'read') return
  const next = by(p.n, end) + frames
  const rest = marks.value.moved.filter((m) => m.press !== p.n || m.end !== end)
  marks.value = { ...marks.value, moved: next ? [...rest, { press: p.n, end, frames: next }] : rest }
}
function drop(n = now.value) {
  if (props.told.presses[n]?.what !== 'read') return
  const now = dropped.value
  marks.value = { ...marks.value, dropped: now.includes(n) ? now.filter((x) => x !== n) : [...now, n] }
}
useKeys([
  { key: 'ArrowDown', does: 'Next press of the film', run: () => go(1) },
  { key: 'ArrowUp', does: 'The press before', run: () => go(-1) },
  { key: 'ArrowLeft', does: 'The answer a frame earlier', run: () => move('answer', -1) },
  { key: 'ArrowRight', does: 'The answer a frame later', run: () => move('answer', 1) },
  { key: ',', does: 'The start a frame earlier', run: () => move('start', -1) },
  { key: '.', does: 'The start a frame later', run: () => move('start', 1) },
  { key: 'X', does: 'Drop the press, or take it back in', run: () => drop() },
])
</script>

<template>
  <ol class="presses">
    <li
      v-for="p in told.presses"
      :key="p.n"
      :class="{ now: p.n === now, gone: dropped.includes(p.n) || p.what !== 'read' }"
      :aria-current="p.n === now"
      @click="now = p.n"
    >
      <div class="row said">
        <b class="fig">{{ p.n + 1 }}</b>
        <span class="fig quiet">{{ (p.start_s ?? p.answer_s ?? 0).toFixed(2) }} s</span>
        <template v-if="p.what === 'read'">
          <span class="fig lag"
            >{{ p.filed_ms?.toFixed(1) }} ms <small>± {{ p.filed_off_ms?.toFixed(1) }}</small></span
          >
          <button v-if="p.n === now" class="small" @click.stop="drop(p.n)">
            {{ dropped.includes(p.n) ? 'Take in' : 'Drop' }} <kbd>X</kbd>
          </button>
        </template>
        <span v-else class="attn">{{ WHAT[p.what] }}</span>
        <span v-if="by(p.n, 'answer') || by(p.n, 'start')" class="small quiet">moved by hand</span>
      </div>
      <template v-if="p.n === now">
        <figure v-for="end in ['start', 'answer'] as const" :key="end">
          <template v-if="frameOf(p, end) !== null">
            <figcaption class="small">
              {{ end === 'start' ? 'starts' : 'answers' }} in the middle one
              <template v-if="p.what === 'read'">
                <button :aria-label="`${end} a frame earlier`" @click.stop="move(end, -1)">−</button>
                <button :aria-label="`${end} a frame later`" @click.stop="move(end, 1)">+</button>
              </template>
            </figcaption>
            <div class="strip">
              <img :src="src(frameOf(p, end) ?? 0)" :alt="`Frames about the ${end}`" /><i></i>
            </div>
          </template>
        </figure>
      </template>
    </li>
  </ol>
</template>

<style scoped>
.presses {
  list-style: none;
  padding: 0;
  margin: 0;
  max-height: 420px;
  overflow-y: auto;
  border: 1px solid var(--rule);
}
li {
  padding: 3px 10px;
  border-bottom: 1px solid var(--rule);
  cursor: pointer;
}
li.now {
  background: var(--signal-soft);
}
li.gone .lag {
  text-decoration: line-through;
}
.said {
  gap: 14px;
  min-height: 28px;
}
.lag {
  font-weight: 600;
}
.lag small {
  font-weight: 400;
}
figure {
  margin: 2px 0 6px;
}
figcaption button {
  padding: 0 8px;
  margin-left: 4px;
}
.strip {
  position: relative;
}
.strip img {
  width: 100%;
  display: block;
}
.strip i {
  position: absolute;
  left: calc(100% * 4 / 9);
  width: calc(100% / 9);
  top: 0;
  bottom: 0;
  border: 2px solid #fff;
  outline: 1px solid #000;
}
</style>
