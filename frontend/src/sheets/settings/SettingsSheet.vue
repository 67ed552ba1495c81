<script setup lang="ts">
// What to set on every box and why; what excludes what; titles, refresh, coverage; what may be behind lag.
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { useJob } from '../../shared/job'
import CoveragePart from './CoveragePart.vue'
import PlanPart from './PlanPart.vue'
import RefreshPart from './RefreshPart.vue'
import SluggishPart from './SluggishPart.vue'
import StylePanel from './StylePanel.vue'
import TitlesPart from './TitlesPart.vue'

const PARTS = [
  { id: 'plan', name: 'What to set', part: PlanPart },
  { id: 'style', name: 'House style', part: StylePanel },
  { id: 'titles', name: 'Title by title', part: TitlesPart },
  { id: 'refresh', name: 'Refresh', part: RefreshPart },
  { id: 'coverage', name: 'Coverage', part: CoveragePart },
  { id: 'lag', name: 'It lags', part: SluggishPart },
] as const
const job = useJob()
const route = useRoute()
const router = useRouter()
const shown = computed(() => PARTS.find((p) => p.id === route.query.part) ?? PARTS[0])
const pick = (id: string) => void router.replace({ query: id === PARTS[0].id ? {} : { part: id } })
</script>

<template>
  <div class="head">
    <h1>Settings</h1>
    <nav class="ways row" aria-label="Parts of this sheet">
      <button
        v-for="p in PARTS"
        :key="p.id"
        :class="{ on: p === shown }"
        :aria-current="p === shown ? 'true' : undefined"
        @click="pick(p.id)"
      >
        {{ p.name }}
      </button>
    </nav>
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
