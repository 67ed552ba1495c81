<script setup lang="ts">
// An old machine's run: its scan rate and how it is treated, its rate, its shape stage by stage, its multiples.

import { api, ask } from '../../api/client'
import { useRunAnswer } from '../../shared/answers'
import { sentence } from '../../shared/words'
import MultipleTable from './MultipleTable.vue'
import ShapeStrip from './ShapeStrip.vue'

const { data } = useRunAnswer('retro', (path) =>
  ask(api.GET('/api/v1/jobs/{job_uid}/runs/{run_uid}/retro', { params: { path } })),
)
</script>

<template>
  <section v-if="data" class="retro" aria-label="Old machine">
    <ShapeStrip :shape="data.shape" />
    <div v-if="data.signal" class="plate scan">
      <p>
        <b>{{ data.signal.name }}</b>{{ ' ' }}
        <span class="quiet small">
          {{ data.signal.system }} · dots at {{ data.signal.dot_clock_mhz }} MHz, {{ data.signal.dots }} a
          line · picture {{ data.signal.active
          }}<template v-if="data.signal.pixel_aspect">, each dot {{ data.signal.pixel_aspect }}</template> ·
          {{ data.signal.sync }} · {{ data.signal.colour }}
        </span>
      </p>
      <p v-for="l in data.links" :key="l.where" :class="{ attn: !l.good && l.treats !== 'unknown' }">
        {{ l.where }}: {{ l.words }}.
      </p>
      <template v-for="s in data.also" :key="s.name">
        <p
          v-for="l in s.links"
          :key="l.where"
          class="small"
          :class="{ attn: !l.good && l.treats !== 'unknown' }"
        >
          It also sends {{ s.name }}. {{ l.where }}: {{ l.words }}.
        </p>
      </template>
      <p v-if="data.rate">{{ sentence(data.rate.words) }}</p>
      <p v-if="data.quality" class="small">{{ sentence(data.quality) }}</p>
      <p v-if="data.scale" class="small">{{ sentence(data.scale) }}</p>
      <p v-if="data.notice" class="small">
        When it works it should write: <b class="fig">{{ data.notice }}</b>
      </p>
      <p class="small">Switch on in this order: {{ data.order.join(', then ') }}.</p>
      <p v-for="c in data.cautions" :key="c" class="small caution">{{ sentence(c) }}</p>
    </div>
    <MultipleTable v-if="data.multiples.length" :multiples="data.multiples" :screens="data.screens" />
  </section>
</template>

<style scoped>
.retro {
  display: grid;
  gap: 12px;
  margin: 10px 0 14px;
}
.scan {
  padding: 9px 14px;
}
.caution {
  border-left: 3px solid var(--tight);
  padding-left: 8px;
}
</style>
