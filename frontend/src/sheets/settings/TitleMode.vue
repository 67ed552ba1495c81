<script setup lang="ts">
// How to play a title: its own mode, the source's output, the screen's mode; and the time a frame takes.
import type { TitlePlans } from '../../api/client'

type Mode = NonNullable<TitlePlans['titles'][number]['mode']>
defineProps<{ mode: Mode }>()
</script>

<template>
  <b>{{ mode.title_mode }}</b><template v-if="mode.title_mode !== `${mode.fps} fps`"
    >, {{ mode.fps }} fps</template
  >
  <small>source at {{ mode.source }}, screen in {{ mode.screen }}</small>
  <small :class="{ attn: !mode.even }">{{ mode.shown }}</small>
  <small class="fig"
    >{{ mode.frame_ms }} ms a frame + {{ mode.scan_ms }} ms to mid-screen<template v-if="mode.adds_ms">
      + {{ mode.adds_ms }} ms added</template
    ></small
  >
  <small v-for="o in mode.others" :key="o.title_mode"
    >{{ o.title_mode }}{{ o.title_mode === `${o.fps} fps` ? '' : `, ${o.fps} fps` }}:
    <span class="fig">{{ o.more_ms > 0 ? '+' : '−' }}{{ Math.abs(o.more_ms) }} ms</span> a frame</small
  >
</template>

<style scoped>
small {
  display: block;
  color: var(--ink-2);
  line-height: 1.35;
}
</style>
