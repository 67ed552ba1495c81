<script setup lang="ts">
// Every reading of the screen, cell by cell, and the way to a spreadsheet and back.
import { ref } from 'vue'

import type { LightCell, LightScreen } from '../../api/client'
import { useJob } from '../../shared/job'
import { mayEdit } from '../../shared/session'
import ReadingList from './ReadingList.vue'
import { usedLight } from './useLight'

defineProps<{ light: LightScreen; cell: LightCell | null }>()
const { takeTable } = usedLight()
const job = useJob()
const busy = ref(false)
async function take(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  busy.value = true
  await takeTable(await file.text())
  busy.value = false
  input.value = ''
}
</script>

<template>
  <div class="row">
    <a class="button" :href="`/api/v1/jobs/${job.view?.uid}/light.csv`" download>Readings as CSV</a>
    <label v-if="mayEdit()" class="row">
      From CSV (screen, scope, value, window_percent, cd_m2)
      <input
        type="file"
        accept=".csv,text/csv"
        :disabled="busy"
        aria-label="Readings from CSV"
        @change="take"
      />
    </label>
    <span v-if="busy" role="status">Reading…</span>
  </div>
  <section v-for="c in light.cells" :key="c.scope" :aria-label="c.name">
    <h2>{{ c.name }}</h2>
    <p v-if="!c.readings.length" class="small quiet">Not read.</p>
    <ReadingList :readings="c.readings" />
  </section>
</template>

<style scoped>
.row {
  flex-wrap: wrap;
  gap: 6px 14px;
}
section {
  margin-top: 12px;
}
</style>
