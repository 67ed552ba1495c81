<script setup lang="ts">
// The shape strip: the test circle as each stage shows it, to scale, in the frame it is laid into.
import { computed } from 'vue'

import type { Retro } from '../../api/client'
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'

const props = defineProps<{ shape: Retro['shape'] }>()
const job = useJob()
const plan = () => void job.change(props.shape.ops, 'the picture in its true shape')
const HIGH = 84
const GAP = 26
const TEXT = computed(() => (props.shape.stages.some((s) => s.cut_percent > 0) ? 79 : 62))
const stages = computed(() => {
  let x = 0
  return props.shape.stages.map((s) => {
    const wide = HIGH * s.frame
    const at = x
    x += Math.max(wide, 116) + GAP
    // the picture's part of the frame; a circle in it is drawn as wide as the picture is too wide
    const w = wide * s.width
    const h = HIGH * s.height
    const ry = (h / s.seen_down) * 0.4
    return { ...s, x: at, wide, w, h, rx: ry * (1 + s.error_percent / 100), ry }
  })
})
const total = computed(() => {
  const last = stages.value.at(-1)
  return last ? last.x + Math.max(last.wide, 116) + 2 : 0
})
</script>

<template>
  <figure class="plate">
    <h2 :class="{ attn: !shape.true }">Shape: {{ shape.words }}</h2>
    <div class="wide">
      <svg
        :viewBox="`-1 -1 ${total} ${HIGH + TEXT}`"
        :width="total"
        :height="HIGH + TEXT"
        role="img"
        :aria-label="stages.map((s) => `${s.stage}: ${s.words}`).join('; ')"
      >
        <g v-for="(s, n) in stages" :key="n" :transform="`translate(${s.x} 0)`">
          <rect :width="s.wide" :height="HIGH" class="frame" />
          <rect :x="(s.wide - s.w) / 2" :y="(HIGH - s.h) / 2" :width="s.w" :height="s.h" class="picture" />
          <clipPath :id="`shape-${n}`">
            <rect :x="(s.wide - s.w) / 2" :y="(HIGH - s.h) / 2" :width="s.w" :height="s.h" />
          </clipPath>
          <ellipse
            :cx="s.wide / 2"
            :cy="HIGH / 2"
            :rx="s.rx"
            :ry="s.ry"
            class="circle"
            :clip-path="`url(#shape-${n})`"
          />
          <line :x1="s.wide / 2 - s.rx" :x2="s.wide / 2 + s.rx" :y1="HIGH / 2" :y2="HIGH / 2" class="cross" />
          <line :x1="s.wide / 2" :x2="s.wide / 2" :y1="HIGH / 2 - s.ry" :y2="HIGH / 2 + s.ry" class="cross" />
          <text x="0" :y="HIGH + 17" class="name">{{ s.stage }}</text>
          <text v-if="s.option" x="0" :y="HIGH + 34">{{ s.option }}</text>
          <text x="0" :y="HIGH + (s.option ? 51 : 34)" :class="{ off: !s.true }">
            {{ s.words }}
          </text>
          <text v-if="s.cut_percent > 0" x="0" :y="HIGH + 68">{{ s.cut_percent }} % past the edges</text>
          <path v-if="n" :d="`M ${-GAP + 6} ${HIGH / 2} h 12 m -4 -4 l 4 4 l -4 4`" class="arrow" />
        </g>
      </svg>
    </div>
    <p v-if="shape.best.length" class="small">
      <b>{{ shape.cure }}</b>
      {{ shape.best.join('; ') }}.
      <button v-if="shape.ops.length && mayEdit()" class="slight" @click="plan">Plan it</button>
    </p>
  </figure>
</template>

<style scoped>
figure {
  padding: 9px 14px 10px;
}
h2 {
  font-size: 14.5px;
  color: var(--ink);
  margin-bottom: 8px;
}
h2.attn {
  color: var(--blocked);
}
.wide {
  overflow-x: auto;
}
svg {
  display: block;
}
.frame {
  fill: var(--sunk);
  stroke: var(--rule-strong);
}
.picture {
  fill: var(--plate);
  stroke: var(--ink-2);
}
.circle {
  fill: none;
  stroke: var(--signal);
  stroke-width: 2.4;
}
.cross {
  stroke: var(--signal);
  stroke-width: 0.8;
}
.arrow {
  fill: none;
  stroke: var(--ink-2);
}
text {
  font: 12.5px var(--body);
  fill: var(--ink-2);
}
.name {
  fill: var(--ink);
  font-weight: 600;
}
.off {
  fill: var(--blocked);
  font-weight: 600;
}
</style>
