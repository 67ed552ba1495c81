<script setup lang="ts">
// What is played: render rates and whether competitively.
import { ref } from 'vue'

import { newUid, type Op, type View } from '../../api/client'
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'
import { modes, typed } from './modes'

const job = useJob()
type Title = View['titles'][number]
const name = ref('')
const rates = ref('60')
const competitive = ref(false)
const hdr = ref<'' | 'yes' | 'no'>('')

const changing = ref<Title | null>(null)
function clear() {
  changing.value = null
  name.value = ''
  rates.value = '60'
  competitive.value = false
  hdr.value = ''
}
function change(t: Title) {
  changing.value = t
  name.value = t.name
  rates.value = typed(t.modes)
  competitive.value = t.competitive
  hdr.value = t.hdr === null ? '' : t.hdr ? 'yes' : 'no'
}
async function add() {
  const old = changing.value
  const row = {
    uid: old?.uid ?? newUid().slice(0, 12),
    ...(old ? { style: old.style } : {}),
    name: name.value.trim(),
    modes: modes(rates.value),
    competitive: competitive.value,
    hdr: hdr.value ? hdr.value === 'yes' : null,
  }
  const ops: Op[] = [
    ...(old ? [{ op: 'remove_title', title: old.uid } as const] : []),
    { op: 'add_title', title: row },
  ]
  if (await job.change(ops, `title ${row.name} ${old ? 'changed' : 'added'}`)) clear()
}
function said(t: Title): string {
  const rates = typed(t.modes)
  const parts = [rates ? `renders ${rates} frames/s` : 'rates not known']
  if (t.competitive) parts.push('competitive')
  if (t.hdr !== null) parts.push(t.hdr ? 'HDR' : 'standard range')
  return parts.join(' · ')
}
const remove = (uid: string, label: string) =>
  void job.change([{ op: 'remove_title', title: uid }], `title ${label} taken out`)
</script>

<template>
  <section aria-label="Titles">
    <h2>Titles played</h2>
    <ul v-if="job.shown?.titles.length">
      <li v-for="t in job.shown.titles" :key="t.uid">
        <b>{{ t.name }}</b>
        <span class="quiet">{{ said(t) }}</span>
        <button v-if="mayEdit()" class="slight" @click="change(t)">
          Change<span class="sr"> {{ t.name }}</span>
        </button>
        <button v-if="mayEdit()" class="slight" @click="remove(t.uid, t.name)">
          Take out<span class="sr"> {{ t.name }}</span>
        </button>
      </li>
    </ul>
    <form v-if="mayEdit()" class="row" @submit.prevent="add">
      <label for="title-name">Title</label><input id="title-name" v-model="name" required maxlength="80" />
      <label for="title-rates">renders, frames/s</label
      ><input id="title-rates" v-model="rates" class="short" placeholder="quality 4K30, fast 60" />
      <label class="row"><input v-model="competitive" type="checkbox" /> competitive</label>
      <label for="title-hdr">HDR</label>
      <select id="title-hdr" v-model="hdr">
        <option value="">not known</option>
        <option value="yes">yes</option>
        <option value="no">no</option>
      </select>
      <button type="submit">{{ changing ? 'Keep' : 'Add title' }}</button>
      <button v-if="changing" type="button" class="slight" @click="clear">Leave it</button>
    </form>
  </section>
</template>

<style scoped>
section {
  margin-bottom: 18px;
}
ul {
  list-style: none;
  padding: 0;
  margin: 4px 0 8px;
}
li {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 3px 0;
}
.short {
  width: 180px;
}
input[type='checkbox'] {
  min-height: 0;
}
</style>
