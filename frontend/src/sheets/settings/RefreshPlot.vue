<script setup lang="ts">
// What each render rate looks like: refresh over render rate, even or not, at a glance.
import { computed, ref } from 'vue'

import type { Refresh } from '../../api/client'

const props = defineProps<{ data: Refresh }>()
const at = ref<number | null>(null)
const typed = ref('') // what stands in the field, whole or half written
const [W, H, LEFT, BOTTOM, TOP] = [680, 230, 44, 34, 14]
const TICKS = [20, 30, 40, 60, 80, 100, 120, 144, 180, 240]
const points = computed(() => props.data.points)
const LOW = props.data.points[0]?.fps ?? 0 // the scale's ends are the server's
const HIGH = props.data.points.at(-1)?.fps ?? 1
const top = computed(() => Math.max(...points.value.map((p) => p.refresh_hz), props.data.fixed_hz) * 1.08)
const x = (fps: number) => LEFT + ((fps - LOW) / (HIGH - LOW)) * (W - LEFT - 10)
const y = (hz: number) => H - BOTTOM - (hz / top.value) * (H - BOTTOM - TOP)
const BAR = (W - LEFT - 10) / (HIGH - LOW + 1)
const levels = computed(() =>
  [...new Set([props.data.window?.[0], props.data.window?.[1], props.data.fixed_hz])].filter(
    (n) => n !== undefined,
  ),
)
const shown = computed(() => points.value.find((p) => p.fps === at.value) ?? null)
function move(event: PointerEvent) {
  const box = (event.currentTarget as SVGElement).getBoundingClientRect()
  const fps = Math.round(
    LOW + ((((event.clientX - box.left) / box.width) * W - LEFT) / (W - LEFT - 10)) * (HIGH - LOW),
  )
  at.value = Math.min(HIGH, Math.max(LOW, fps))
  typed.value = String(at.value)
}
function type(event: Event) {
  typed.value = (event.target as HTMLInputElement).value
  const fps = Number(typed.value)
  at.value = fps >= LOW && fps <= HIGH ? Math.round(fps) : null
}
</script>

<template>
  <figure>
    <svg
      :viewBox="`0 0 ${W} ${H}`"
      role="img"
      :aria-label="data.segments.map((s) => `${s.from_fps} to ${s.to_fps}: ${s.words}`).join('; ')"
      @pointermove="move"
    >
      <defs>
        <pattern id="uneven" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <line x1="0" y1="0" x2="0" y2="5" class="stripe" />
        </pattern>
      </defs>
      <g v-for="l in levels" :key="l">
        <line :x1="LEFT" :x2="W - 10" :y1="y(l)" :y2="y(l)" class="level" />
        <text :x="LEFT - 6" :y="y(l) + 4" text-anchor="end">{{ l }}</text>
      </g>
      <rect
        v-for="p in points"
        :key="p.fps"
        :x="x(p.fps) - BAR / 2"
        :width="BAR"
        :y="y(p.refresh_hz)"
        :height="H - BOTTOM - y(p.refresh_hz)"
        :class="p.state"
      />
      <line :x1="LEFT" :x2="W - 10" :y1="H - BOTTOM" :y2="H - BOTTOM" class="axis" />
      <text v-for="t in TICKS" :key="t" :x="x(t)" :y="H - BOTTOM + 15" text-anchor="middle">{{ t }}</text>
      <text :x="W - 10" :y="H - 3" text-anchor="end" class="name">frames a second</text>
      <text :x="2" :y="TOP - 2" class="name">refresh, Hz</text>
      <line v-if="shown" :x1="x(shown.fps)" :x2="x(shown.fps)" :y1="TOP" :y2="H - BOTTOM" class="here" />
    </svg>
    <figcaption>
      <label for="what-rate">What does</label>
      <input
        id="what-rate"
        inputmode="numeric"
        :value="typed"
        placeholder="47"
        aria-label="Render rate in frames a second"
        @input="type"
      />
      <span v-if="shown"
        >look like? <b>{{ shown.words }}.</b> Shown at {{ shown.refresh_hz }} Hz<template
          v-if="shown.state !== 'over'"
          >; a frame stays
          {{
            shown.shortest_ms === shown.longest_ms
              ? `${shown.shortest_ms.toFixed(1)} ms`
              : `${shown.shortest_ms.toFixed(1)} or ${shown.longest_ms.toFixed(1)} ms`
          }}</template
        >.</span
      >
      <span v-else class="quiet">look like? Type a rate, or point at the plot.</span>
    </figcaption>
    <ul class="legend">
      <li v-for="s in ['window', 'repeated', 'even', 'uneven', 'over']" :key="s">
        <svg width="16" height="12"><rect width="16" height="12" :class="s" /></svg>
        {{
          {
            window: 'in the window',
            repeated: 'repeated, even',
            even: 'fixed, even',
            uneven: 'uneven',
            over: 'too many',
          }[s]
        }}
      </li>
    </ul>
  </figure>
</template>

<style scoped>
figure {
  margin: 8px 0;
  max-width: 760px;
}
svg {
  width: 100%;
  height: auto;
  display: block;
}
text {
  font: 12px var(--figure);
  fill: var(--ink-2);
}
.name {
  font-family: inherit;
}
.level {
  stroke: var(--rule);
}
.axis {
  stroke: var(--ink-2);
}
.here {
  stroke: var(--ink);
  stroke-width: 1.5;
}
.window {
  fill: var(--signal);
}
.repeated {
  fill: var(--signal);
  opacity: 0.55;
}
.even,
.once {
  fill: var(--ink-3);
}
.uneven {
  fill: url(#uneven);
}
.stripe {
  stroke: var(--tight);
  stroke-width: 4;
}
.over {
  fill: var(--blocked-soft);
  stroke: none;
}
figcaption {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  margin-top: 6px;
}
figcaption input {
  width: 64px;
}
.legend {
  list-style: none;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  font-size: 13px;
  margin-top: 6px;
}
.legend li {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.legend svg {
  width: 16px;
}
</style>
