<script setup lang="ts">
// What is played: render rates and whether competitively.
import { ref } from 'vue'

import { newUid } from '../../api/client'
import { mayEdit } from '../../app/session'
import { useJob } from '../../shared/job'

const job = useJob()
const name = ref('')
const rates = ref('60')
const competitive = ref(false)

async function add() {
  const list = rates.value
    .split(/[\s,/]+/)
    .filter(Boolean)
    .map(Number)
  const row = {
    uid: newUid().slice(0, 12),
    name: name.value.trim(),
    render_rates: list,
    competitive: competitive.value,
  }
  if (await job.change([{ op: 'add_title', title: row }], `title ${row.name} added`)) name.value = ''
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
        <span class="quiet"
          >{{ t.render_rates.length ? `renders ${t.render_rates.join(', ')} frames/s` : 'rates not known'
          }}{{ t.competitive ? ' · competitive' : '' }}</span
        >
        <button v-if="mayEdit()" class="slight" @click="remove(t.uid, t.name)">
          Take out<span class="sr"> {{ t.name }}</span>
        </button>
      </li>
    </ul>
    <form v-if="mayEdit()" class="row" @submit.prevent="add">
      <label for="title-name">Title</label><input id="title-name" v-model="name" required maxlength="80" />
      <label for="title-rates">renders, frames/s</label
      ><input id="title-rates" v-model="rates" class="short" />
      <label class="row"><input v-model="competitive" type="checkbox" /> competitive</label>
      <button type="submit">Add title</button>
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
  width: 90px;
}
input[type='checkbox'] {
  min-height: 0;
}
</style>
