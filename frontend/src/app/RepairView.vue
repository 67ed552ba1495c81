<script setup lang="ts">
// A job that cannot be worked out: why, what was done last, undo, and its file. The other jobs are not touched.
import { computed, ref } from 'vue'

import { api, ask, newUid, Problem } from '../api/client'
import { mayEdit } from '../shared/session'
import { shortTime } from '../shared/words'

interface Entry {
  revision: number
  label: string
  by: string
  at: string
}
const props = defineProps<{ uid: string; problem: Problem }>()
const emit = defineEmits<{ mended: [] }>()
const said = ref('')
const more = computed(
  () =>
    props.problem.more as {
      job_title: string
      revision: number
      line: string
      can_undo: string | null
      history: Entry[]
    },
)

async function undo() {
  const { revision, line } = more.value
  try {
    await ask(
      api.POST('/api/v1/jobs/{job_uid}/undo', {
        params: { path: { job_uid: props.uid } },
        body: { uid: newUid(), revision, line, others: true },
      }),
    )
    emit('mended')
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    said.value = problem.detail
  }
}
</script>

<template>
  <main class="repair">
    <h1>{{ more.job_title }}</h1>
    <p class="attn" role="alert">{{ problem.detail }}</p>
    <p v-if="problem.where" class="small quiet">Place: {{ problem.where }}</p>
    <p>
      Nothing of it is lost, and no other job is touched. Take its latest change back, or save its file, mend
      it and read it in again.
    </p>
    <p class="row">
      <button v-if="more.can_undo && mayEdit()" class="go" @click="undo">Undo: {{ more.can_undo }}</button>
      <a :href="`/api/v1/jobs/${uid}/file`" download>Save its file</a>
      <RouterLink to="/">All jobs</RouterLink>
    </p>
    <p v-if="said" class="attn" role="alert">{{ said }}</p>
    <h2>What was done last</h2>
    <table class="plain">
      <thead>
        <tr>
          <th>no</th>
          <th>change</th>
          <th>by</th>
          <th>when</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="h in more.history" :key="h.revision">
          <td class="fig">{{ h.revision }}</td>
          <td>{{ h.label }}</td>
          <td>{{ h.by || '–' }}</td>
          <td>{{ shortTime(h.at, undefined) }}</td>
        </tr>
      </tbody>
    </table>
  </main>
</template>

<style scoped>
.repair {
  max-width: 760px;
  margin: 0 auto;
  padding: 24px 16px;
}
.repair p.row {
  margin: 14px 0 26px;
}
.repair h2 {
  margin-bottom: 6px;
}
</style>
