<script setup lang="ts">
// One line of the picture to scale: what is picture, blanking, overhead, and what is left.
import { computed } from 'vue'

import type { Line } from '../api/client'

const props = defineProps<{ line: Line }>()
const needed = computed(
  () => props.line.picture + props.line.blanking + props.line.sound + props.line.overhead,
)
const part = (n: number) => `${(100 * n) / Math.max(props.line.characters, needed.value)}%`
const over = computed(() => needed.value > props.line.characters)
</script>

<template>
  <figure>
    <figcaption class="head">
      One line of the picture, to scale: {{ line.microseconds }} µs, {{ line.characters }} characters
    </figcaption>
    <div class="bar" aria-hidden="true">
      <span class="picture" :style="{ width: part(line.picture) }">picture {{ line.picture }}</span>
      <span class="blank" :style="{ width: part(line.blanking) }"></span>
      <span class="sound" :style="{ width: part(line.sound) }"></span>
      <span class="over" :style="{ width: part(line.overhead) }"></span>
      <span v-if="!over" class="spare">{{ line.spare > 0.06 * line.characters ? 'spare' : '' }}</span>
      <i v-if="over" class="limit" :style="{ left: part(line.characters) }"></i>
    </div>
    <p class="quiet small">
      <i class="key blank"></i> blanking, compressed {{ line.blanking }} · <i class="key sound"></i> sound
      {{ line.sound }} · <i class="key over"></i> overhead and margin {{ line.overhead_percent }} % ·
      <template v-if="over">past the end of the line</template
      ><template v-else>spare {{ line.spare_percent }} %</template>
    </p>
  </figure>
</template>

<style scoped>
figure {
  margin-top: 14px;
}
.head {
  font-size: 13px;
  font-weight: 650;
  color: var(--ink-2);
  margin-bottom: 5px;
}
.bar {
  display: flex;
  height: 34px;
  border: 1px solid var(--ink-2);
  position: relative;
  background: var(--plate);
}
.bar span {
  display: grid;
  place-items: center;
  font-size: 13px;
  overflow: hidden;
}
.picture {
  background: var(--signal);
  color: var(--on-signal);
}
.blank {
  background: var(--signal-soft);
  border-right: 1px solid var(--ink-2);
}
.over {
  background: repeating-linear-gradient(90deg, var(--ink-2) 0 1.5px, var(--plate) 1.5px 6px);
  border-right: 1px solid var(--ink-2);
}
.sound {
  background: radial-gradient(var(--ink) 1.2px, transparent 1.4px) 0 0 / 4px 4px var(--plate);
  border-right: 1px solid var(--ink-2);
}
.key {
  display: inline-block;
  width: 14px;
  height: 11px;
  border: 1px solid var(--ink-2);
  vertical-align: -1px;
}
.spare {
  flex: 1;
}
.limit {
  position: absolute;
  top: -5px;
  bottom: -5px;
  border-left: 3px solid var(--blocked);
}
p {
  margin-top: 3px;
}
</style>
