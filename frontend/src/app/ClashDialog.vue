<script setup lang="ts">
// Two people changed the same thing: both versions side by side, and the choice.
import Dialog from 'primevue/dialog'

import { useJob } from '../shared/job'
import { shortTime } from '../shared/words'

const job = useJob()

const place = (path: string) => path.split('/').filter(Boolean).join(' › ')
</script>

<template>
  <Dialog
    :visible="job.clash !== null"
    modal
    :closable="false"
    header="Somebody changed the same thing"
    :style="{ width: '560px' }"
  >
    <p>
      Your change “{{ job.clash?.edit.label }}” was not made yet. Choose which version stays; the other can be
      had back by undo.
    </p>
    <table class="plain">
      <thead>
        <tr>
          <th>What</th>
          <th>Theirs</th>
          <th>Yours</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(c, n) in job.clash?.clashes" :key="n">
          <td>{{ place(c.path) }}</td>
          <td>
            <b>{{ c.theirs_words }}</b><br /><small class="quiet"
              >{{ c.by }}, {{ shortTime(c.at, job.view?.time_zone) }}</small
            >
          </td>
          <td>
            <b>{{ c.yours_words }}</b>
          </td>
        </tr>
      </tbody>
    </table>
    <p class="row buttons">
      <button class="go" @click="job.settleClash(true)">Keep mine</button>
      <button @click="job.settleClash(false)">Keep theirs</button>
    </p>
  </Dialog>
</template>

<style scoped>
table {
  margin: 12px 0;
}
.buttons {
  justify-content: flex-end;
}
</style>
