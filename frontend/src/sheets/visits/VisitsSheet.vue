<script setup lang="ts">
// Coming back: who comes when, what an update put back, what changed since, and the logbook of it all.
import PartNav from '../../shared/PartNav.vue'
import { useJob } from '../../shared/job'
import { useParts, type Part } from '../../shared/parts'
import ComparePart from './ComparePart.vue'
import KeptPart from './KeptPart.vue'
import LogPart from './LogPart.vue'
import UpdatePart from './UpdatePart.vue'
import VisitsPart from './VisitsPart.vue'

const PARTS: readonly [Part, ...Part[]] = [
  { id: 'visits', name: 'Who comes when', part: VisitsPart },
  { id: 'update', name: 'After an update', part: UpdatePart },
  { id: 'changed', name: 'What changed', part: ComparePart },
  { id: 'kept', name: 'Kept by the client', part: KeptPart },
  { id: 'log', name: 'Logbook', part: LogPart },
]
const job = useJob()
const shown = useParts(PARTS)
</script>

<template>
  <div class="head">
    <h1>Visits</h1>
    <PartNav :parts="PARTS" :shown="shown" />
  </div>
  <component :is="shown.part" v-if="job.view" />
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  align-items: baseline;
  margin-bottom: 8px;
}
@media print {
  nav {
    display: none;
  }
}
</style>
