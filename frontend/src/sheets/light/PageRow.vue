<script setup lang="ts">
// One page of a source: how many clicks, what a count means, and the counts it was told by.
import { ref } from 'vue'

import type { LightCell, LightScreen } from '../../api/client'
import { useJob } from '../../shared/job'
import { mayEdit } from '../../shared/session'
import { usedLight } from './useLight'
import { noteOf } from './words'

type Hdr = LightScreen['hdr'][number]
const props = defineProps<{ page: Hdr['pages'][number]; hdr: Hdr; light: LightScreen; cell: LightCell }>()
const { note, drop } = usedLight()
const job = useJob()
const count = ref('')
const SETS: Record<string, string> = {
  peak: 'brightest small patch',
  full: 'full bright picture',
  black: 'black',
}

function keep() {
  const counted = Number(count.value)
  if (!count.value || !Number.isInteger(counted) || counted < 0) return
  const source = job.shown?.runs.find((r) => r.uid === props.hdr.run)?.source ?? ''
  const counts = noteOf('clicks', source, {
    screen: props.light.device,
    scope: props.cell.scope,
    value: props.page.page,
    figures: { count: counted }, // the light it was made on is what was measured for the page, if it was
  })
  void note([counts], `Counted: ${counted} on ${props.page.label}.`).then((kept) => {
    if (kept) count.value = ''
  })
}
</script>

<template>
  <div class="page">
    <b class="name">{{ page.label }}</b>
    <span class="count fig">
      <template v-if="page.low !== null">{{
        page.low === page.high ? page.low : `${page.low}–${page.high}`
      }}</template>
      <template v-else>?</template>
    </span>
    <div class="said">
      {{ SETS[page.sets] }}: {{ page.said }}
      <div v-if="page.number" class="small quiet">Its number: {{ page.number }}.</div>
      <div v-if="page.meaning" class="small">{{ page.meaning }}.</div>
      <div v-if="page.fit" class="small">{{ page.fit }}.</div>
      <div v-if="page.stale" class="small attn">Counted before a change: {{ page.stale }}. Count again.</div>
      <div v-if="page.counted.length" class="small quiet">
        Counted:
        <template v-for="c in page.counted" :key="c.uid">
          {{ c.count }} {{ c.light ? `at ${c.light}` : '(its light was not measured)'
          }}<button v-if="mayEdit()" class="plain small" @click="drop(c.uid ?? '')">take out</button>
        </template>
      </div>
      <button
        v-if="page.ops.length && mayEdit()"
        class="slight"
        @click="job.change(page.ops, `steps of ${page.label}`)"
      >
        Keep these steps with {{ hdr.source }}
      </button>
    </div>
    <form v-if="mayEdit()" class="row" @submit.prevent="keep">
      <label :for="`count-${hdr.run}-${page.page}`">Counted</label>
      <input :id="`count-${hdr.run}-${page.page}`" v-model="count" class="fig" inputmode="numeric" />
      <button class="slight">Note</button>
    </form>
  </div>
</template>

<style scoped>
.page {
  display: grid;
  grid-template-columns: 120px 84px minmax(200px, 1fr) auto;
  gap: 4px 12px;
  align-items: start;
  border-top: 1px solid var(--rule);
  padding: 7px 0;
}
.count {
  font-size: 22px;
  line-height: 1.1;
  color: var(--signal);
}
input {
  width: 64px;
}
@media (max-width: 700px) {
  .page {
    grid-template-columns: 1fr 84px;
  }
  .said,
  form {
    grid-column: 1 / -1;
  }
}
</style>
