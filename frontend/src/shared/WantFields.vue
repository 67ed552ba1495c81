<script setup lang="ts">
// A run's want, each part a choice; a change is judged at once.
import type { Run } from '../api/client'
import { useJob } from './job'
import { chromaNames, hdrNames } from './words'

const props = defineProps<{ run: Run; disabled: boolean }>()
const job = useJob()
const BITS = [8, 10, 12] as const

function set(key: string, value: string | number | boolean) {
  void job.change([{ op: 'set_want', run: props.run.uid, key, value }], `${props.run.label} wants: ${key}`)
}
const picked = (event: Event) => (event.target as HTMLSelectElement).value
const ticked = (event: Event) => (event.target as HTMLInputElement).checked
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
    <label class="tick"
      ><input type="checkbox" :checked="run.want.vrr" @change="set('vrr', ticked($event))" /> variable
      refresh</label
    >
    <label class="tick"
      ><input type="checkbox" :checked="run.want.low_lag" @change="set('low_lag', ticked($event))" /> low
      latency</label
    >
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
.tick {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  min-height: 32px;
  color: var(--ink);
  font-size: 14px;
}
.tick input {
  min-height: 0;
  width: 16px;
  height: 16px;
  accent-color: var(--signal);
}
</style>
