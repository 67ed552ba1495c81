<script setup lang="ts">
// What else happens on a run: where its sound goes, what will be scaled or go black, what boxes will say.
import type { Run } from '../api/client'
import { mayEdit } from './session'
import { useJob } from './job'

defineProps<{ run: Run }>()
const job = useJob()
</script>

<template>
  <section class="notes" aria-label="Sound and what else happens">
    <div>
      <h2>Sound</h2>
      <p :class="{ attn: run.sound.silent }">{{ run.sound.headline }}</p>
      <ul v-if="run.sound.ends.length > 1" class="small quiet">
        <li v-for="e in run.sound.ends.slice(1)" :key="e.device">
          also {{ e.label }}, {{ e.certain ? e.format : 'not known whether it plays' }}, by
          {{ e.way[e.way.length - 1] }}
        </li>
      </ul>
      <p v-for="b in run.sound.barred" :key="b" class="small quiet">{{ b }}</p>
      <p v-for="w in run.sound.ways" :key="w.label" class="row small">
        <button v-if="mayEdit()" class="slight" @click="job.change(w.ops, w.label)">Add</button>
        <span>{{ w.label }}: {{ w.format }}</span>
      </p>
    </div>
    <div v-if="run.notes.length">
      <h2>What else happens</h2>
      <ul>
        <li v-for="n in run.notes" :key="n.code + n.subject">{{ n.text }}</li>
      </ul>
    </div>
  </section>
</template>

<style scoped>
.notes {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(260px, 1fr));
  gap: 6px 22px;
  margin: 14px 0;
  padding-top: 10px;
  border-top: 1px solid var(--rule);
}
ul {
  padding-left: 16px;
  margin: 2px 0;
}
</style>
