<script setup lang="ts">
// What to set on every box and why; what excludes what; titles, refresh, coverage.

import { useJob } from '../../shared/job'
import PartNav from '../../shared/PartNav.vue'
import { useParts, type Part } from '../../shared/parts'
import CoveragePart from './CoveragePart.vue'
import PlanPart from './PlanPart.vue'
import RefreshPart from './RefreshPart.vue'
import StylePanel from './StylePanel.vue'
import TitlesPart from './TitlesPart.vue'
import ValuesPart from './ValuesPart.vue'

const PARTS: readonly [Part, ...Part[]] = [
  { id: 'plan', name: 'What to set', part: PlanPart },
  { id: 'values', name: 'Values', part: ValuesPart },
  { id: 'style', name: 'House style', part: StylePanel },
  { id: 'titles', name: 'Title by title', part: TitlesPart },
  { id: 'refresh', name: 'Refresh', part: RefreshPart },
  { id: 'coverage', name: 'Coverage', part: CoveragePart },
]
const job = useJob()
const shown = useParts(PARTS)
</script>

<template>
  <div class="head">
    <h1>Settings</h1>
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
</style>
