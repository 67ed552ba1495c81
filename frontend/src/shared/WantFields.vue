<script setup lang="ts">
// A run's want, each part a choice; a change is judged at once.
import { computed } from 'vue'

import type { Run } from '../api/client'
import { useChoices, withValue } from './choices'
import { useJob } from './job'
import PickList from './PickList.vue'
import TickBox from './TickBox.vue'
import { chromaNames, hdrNames } from './words'

const props = defineProps<{ run: Run; disabled: boolean }>()
const job = useJob()
const BITS = [8, 10, 12] as const
const WEIGHTS = Array.from({ length: 9 }, (_, n) => ({ id: String(n + 1), name: n ? `${n + 1}×` : 'once' }))

function set(key: string, value: string | number | boolean) {
  void job.change([{ op: 'set_want', run: props.run.uid, key, value }], `${props.run.label} wants: ${key}`)
}
const way = computed(() => props.run.ways.find((w) => w.chosen)?.leads.join() ?? '')
function goBy(leads: string) {
  const way = props.run.ways.find((w) => w.leads.join() === leads)?.leads ?? []
  void job.change([{ op: 'set_run', run: props.run.uid, way }], `${props.run.label} goes another way`)
}
const choices = useChoices()
const sounds = computed(() => withValue(choices.value.audio, props.run.want.audio))
const picked = (event: Event) => (event.target as HTMLSelectElement).value
</script>

<template>
  <fieldset class="want" :disabled="disabled">
    <legend class="sr">What {{ run.label }} wants</legend>
    <span class="field">
      <label :for="`mode-${run.uid}`">Wants</label>
      <select :id="`mode-${run.uid}`" :value="run.want.mode" @change="set('mode', picked($event))">
        <option v-for="m in run.modes" :key="m.mode" :value="m.mode">{{ m.name }}</option>
      </select>
    </span>
    <span class="field">
      <label :for="`hdr-${run.uid}`">Range</label>
      <select :id="`hdr-${run.uid}`" :value="run.want.hdr" @change="set('hdr', picked($event))">
        <option v-for="(name, id) in hdrNames" :key="id" :value="id">{{ name }}</option>
      </select>
    </span>
    <span class="field">
      <label :for="`chroma-${run.uid}`">Chroma</label>
      <select :id="`chroma-${run.uid}`" :value="run.want.chroma" @change="set('chroma', picked($event))">
        <option v-for="(name, id) in chromaNames" :key="id" :value="id">{{ name }}</option>
      </select>
    </span>
    <span class="field">
      <label :for="`bits-${run.uid}`">Depth, at least</label>
      <select :id="`bits-${run.uid}`" :value="run.want.bits" @change="set('bits', Number(picked($event)))">
        <option v-for="b in BITS" :key="b" :value="b">{{ b }}-bit</option>
      </select>
    </span>
    <PickList
      :id="`audio-${run.uid}`"
      class="sound"
      label="Sound"
      :list="sounds"
      :value="run.want.audio"
      @pick="set('audio', $event)"
    />
    <TickBox :checked="run.want.vrr" @set="set('vrr', $event)">variable refresh</TickBox>
    <TickBox :checked="run.want.low_lag" @set="set('low_lag', $event)">low latency</TickBox>
    <TickBox :checked="run.want.protected" @set="set('protected', $event)">protected films</TickBox>
    <PickList
      :id="`weight-${run.uid}`"
      label="Counts"
      :list="WEIGHTS"
      :value="String(run.want.weight)"
      @pick="set('weight', Number($event))"
    />
    <span v-if="run.ways.length" class="field">
      <label :for="`way-${run.uid}`">Goes by</label>
      <select :id="`way-${run.uid}`" class="way" :value="way" @change="goBy(picked($event))">
        <option value="">the way that is shown: {{ run.ways[0]?.words }}</option>
        <option v-for="w in run.ways" :key="w.leads.join()" :value="w.leads.join()">{{ w.words }}</option>
      </select>
    </span>
  </fieldset>
</template>

<style scoped>
.want {
  border: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: end;
}
.field {
  display: grid;
}
.want {
  min-width: 0;
}
.way {
  max-width: 420px;
}
.sound :deep(select) {
  width: 236px;
}
</style>
