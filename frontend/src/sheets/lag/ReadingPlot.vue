<script setup lang="ts">
// Readings by condition: the whole range, and beside it the part near the bound, larger.
import { computed } from 'vue'

import type { LagSession, Reading } from '../../api/client'

const props = defineProps<{ session: LagSession; readings: Reading[] }>()
const ROW = 46
const LABEL = 150
const WIDE = 430
const NEAR = 300
const HEAD = 24
const STEPS = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000]

const CLOSE = 1.6 // a bound within so much of the highest reading belongs into the near picture

interface Axis {
  from: number
  to: number
  step: number
}
function axis(from: number, to: number, ticks: number): Axis {
  const step = STEPS.find((s) => (to - from) / s <= ticks) ?? 1000
  return { from: Math.floor(from / step) * step, to: Math.ceil(to / step) * step || step, step }
}
const values = computed(() => props.readings.map((r) => r.lag_ms))
const bound = computed(() => props.session.report.bound_ms)
const whole = computed(() => axis(0, Math.max(bound.value * 1.3, ...values.value), 6))
const near = computed(() => {
  const low = values.value.filter((v) => v <= bound.value * 1.5)
  if (!low.length) return axis(0, bound.value * 1.5, 6)
  const [least, most] = [Math.min(...low), Math.max(...low)]
  return axis(least * 0.92, most * CLOSE > bound.value ? Math.max(bound.value * 1.05, most) : most * 1.08, 6)
})
const ticks = (a: Axis) =>
  Array.from({ length: Math.round((a.to - a.from) / a.step) + 1 }, (_, n) => a.from + n * a.step)
const rows = computed(() =>
  props.session.conditions.map((name, n) => ({
    name,
    y: HEAD + n * ROW,
    dots: props.readings.filter((r) => r.condition === name),
    summary: props.session.report.conditions.find((c) => c.condition === name)?.summary ?? null,
  })),
)
const height = computed(() => HEAD + rows.value.length * ROW + 26)
const place = (a: Axis, left: number, width: number) => (v: number) =>
  left + ((v - a.from) / (a.to - a.from)) * width
const wideX = computed(() => place(whole.value, LABEL, WIDE - LABEL - 20))
const nearX = computed(() => place(near.value, 14, NEAR - 34))
const inNear = (v: number) => v >= near.value.from && v <= near.value.to
const jitter = (seq: number) => ((seq * 7) % 11) - 5
const label = (r: (typeof rows.value)[number]) =>
  r.summary
    ? `${r.name}: median ${r.summary.median_ms.toFixed(1)} ms of ${r.summary.n}`
    : `${r.name}: not taken`
</script>

<template>
  <div class="plots">
    <svg :viewBox="`0 0 ${WIDE} ${height}`" role="img" :aria-label="rows.map(label).join('; ')">
      <g v-for="t in ticks(whole)" :key="t">
        <line :x1="wideX(t)" :x2="wideX(t)" :y1="HEAD" :y2="height - 22" class="grid" />
        <text :x="wideX(t)" :y="height - 7" text-anchor="middle" class="axis">{{ t }}</text>
      </g>
      <line :x1="wideX(bound)" :x2="wideX(bound)" y1="16" :y2="height - 22" class="bound" />
      <text :x="wideX(bound) + 4" y="15" class="boundtext">{{ bound }} {{ session.report.kind }}</text>
      <g v-for="r in rows" :key="r.name">
        <line x1="0" :x2="WIDE" :y1="r.y" :y2="r.y" class="grid" />
        <text x="8" :y="r.y + 20" class="name">{{ r.name }}</text>
        <text x="8" :y="r.y + 37" class="axis">
          {{ r.summary ? `${r.summary.n} reading${r.summary.n === 1 ? '' : 's'}` : 'not taken' }}
        </text>
        <circle
          v-for="d in r.dots"
          :key="d.seq"
          :cx="wideX(d.lag_ms)"
          :cy="r.y + ROW / 2 + jitter(d.seq)"
          r="2.6"
          :class="{ dot: true, gone: d.discard }"
        />
        <template v-if="r.summary">
          <line
            :x1="wideX(r.summary.median_ms)"
            :x2="wideX(r.summary.median_ms)"
            :y1="r.y + 8"
            :y2="r.y + ROW - 8"
            class="median"
          />
          <text
            :x="wideX(r.summary.median_ms) + (wideX(r.summary.median_ms) > WIDE - 90 ? -10 : 10)"
            :y="r.y + ROW / 2 + 5"
            :text-anchor="wideX(r.summary.median_ms) > WIDE - 90 ? 'end' : 'start'"
            class="value"
          >
            {{ r.summary.median_ms.toFixed(1) }}
          </text>
        </template>
      </g>
    </svg>
    <svg :viewBox="`0 0 ${NEAR} ${height}`" aria-hidden="true" class="near">
      <g v-for="t in ticks(near)" :key="t">
        <line :x1="nearX(t)" :x2="nearX(t)" :y1="HEAD" :y2="height - 22" class="grid" />
        <text :x="nearX(t)" :y="height - 7" text-anchor="middle" class="axis">{{ t }}</text>
      </g>
      <template v-if="inNear(bound)">
        <line :x1="nearX(bound)" :x2="nearX(bound)" y1="16" :y2="height - 22" class="bound" />
        <text :x="nearX(bound) - 4" y="15" text-anchor="end" class="boundtext">
          {{ bound }} {{ session.report.kind }}
        </text>
      </template>
      <g v-for="r in rows" :key="r.name">
        <line x1="0" :x2="NEAR" :y1="r.y" :y2="r.y" class="grid" />
        <circle
          v-for="d in r.dots.filter((x) => inNear(x.lag_ms))"
          :key="d.seq"
          :cx="nearX(d.lag_ms)"
          :cy="r.y + ROW / 2 + jitter(d.seq)"
          r="3.4"
          :class="{ dot: true, gone: d.discard }"
        />
        <template v-if="r.summary && inNear(r.summary.median_ms)">
          <rect
            v-if="r.summary.ci_low_ms != null && r.summary.ci_high_ms != null"
            :x="nearX(r.summary.ci_low_ms)"
            :width="Math.max(1, nearX(r.summary.ci_high_ms) - nearX(r.summary.ci_low_ms))"
            :y="r.y + 6"
            :height="ROW - 12"
            class="interval"
          />
          <line
            :x1="nearX(r.summary.median_ms)"
            :x2="nearX(r.summary.median_ms)"
            :y1="r.y + 4"
            :y2="r.y + ROW - 4"
            class="median"
          />
        </template>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.plots {
  display: grid;
  grid-template-columns: 430fr 300fr;
  gap: 10px;
  max-width: 900px;
}
svg {
  width: 100%;
  background: var(--plate);
  border: 1px solid var(--rule-strong);
}
.grid {
  stroke: var(--rule);
}
.axis {
  font: 13px var(--body);
  fill: var(--ink-2);
}
.name {
  font: 650 14px var(--body);
  fill: var(--ink);
}
.bound {
  stroke: var(--tight);
  stroke-dasharray: 5 4;
  stroke-width: 1.5;
}
.boundtext {
  font: 13px var(--body);
  fill: var(--tight);
}
.dot {
  fill: var(--signal);
  opacity: 0.55;
}
.dot.gone {
  fill: none;
  stroke: var(--ink-3);
  opacity: 0.8;
}
.median {
  stroke: var(--ink);
  stroke-width: 2.5;
}
.interval {
  fill: none;
  stroke: var(--ink);
}
.value {
  font: 600 14px var(--figure);
  fill: var(--ink);
}
@media (max-width: 760px) {
  .plots {
    grid-template-columns: 1fr;
  }
}
</style>
