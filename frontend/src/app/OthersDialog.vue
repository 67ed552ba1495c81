<script setup lang="ts">
// An undo would take back what somebody else did: asked first.
import Dialog from 'primevue/dialog'

import { useJob } from '../shared/job'

const job = useJob()
</script>

<template>
  <Dialog
    :visible="job.others !== null"
    modal
    :closable="false"
    header="Somebody else did this"
    :style="{ width: '480px' }"
  >
    <template v-if="job.others">
      <p>
        The latest change is <b>{{ job.others.by }}</b>’s: “{{ job.others.label }}”.
        {{ job.others.kind === 'undo' ? 'Undo it' : 'Do it again' }} all the same?
      </p>
      <p class="row end">
        <button autofocus @click="job.others = null">Leave it</button>
        <button class="go" @click="job.step(job.others.kind, true)">
          {{ job.others.kind === 'undo' ? 'Undo it' : 'Do it again' }}
        </button>
      </p>
    </template>

    <style scoped>
      .end {
        justify-content: flex-end;
        margin-top: 16px;
      }
    </style>
  </Dialog>
</template>
