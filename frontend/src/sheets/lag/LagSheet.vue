<script setup lang="ts">
// The lag bench of the chosen run's screen: measured by plan, by hand or freely; judged, explained, kept.
import Dialog from 'primevue/dialog'
import { computed, provide, ref, watch } from 'vue'

import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'
import PartNav from '../../shared/PartNav.vue'
import { useParts, type Part } from '../../shared/parts'
import ScreenHead from '../../shared/ScreenHead.vue'
import BesidePart from './BesidePart.vue'
import ChainPart from './ChainPart.vue'
import CostPart from './CostPart.vue'
import FilmPart from './FilmPart.vue'
import LagVerdicts from './LagVerdicts.vue'
import LightPart from './LightPart.vue'
import MeasurePart from './MeasurePart.vue'
import ReadingsPart from './ReadingsPart.vue'
import { LAG, useLag } from './useLag'

const PARTS: readonly [Part, ...Part[]] = [
  { id: 'measure', name: 'Measure', part: MeasurePart },
  { id: 'film', name: 'Film', part: FilmPart },
  { id: 'cost', name: 'What it costs', part: CostPart },
  { id: 'beside', name: 'Side by side', part: BesidePart },
  { id: 'light', name: 'Light and signals', part: LightPart },
  { id: 'chain', name: 'Chain and sound', part: ChainPart },
  { id: 'readings', name: 'Readings', part: ReadingsPart },
]
const job = useJob()
const shown = useParts(PARTS)
const jobUid = computed(() => job.view?.uid ?? '')
// a screen chosen here, else the chosen run's, else the only one there is: a meter needs no run
const picked = ref('')
const screens = computed(() => job.view?.devices.filter((d) => d.role === 'screen') ?? [])
const device = computed(() => {
  const sink = job.view?.runs.find((r) => r.uid === job.run?.uid)?.sink
  const own = screens.value.some((d) => d.uid === picked.value) ? picked.value : ''
  return own || (sink ?? screens.value[0]?.uid ?? '')
})
watch(
  () => job.run?.uid,
  () => (picked.value = ''),
)
const lag = useLag(jobUid, device, mayEdit())
provide(LAG, lag)
const { session, readings, busy } = lag
const warning = ref(false)
let after: (() => void) | null = null

// The rail and the hand-over count readings too.
watch(
  () => [busy.value, busy.value ? 0 : (session.value?.total ?? 0), readings.value.length],
  () => {
    if (!busy.value) job.refresh().catch(() => undefined)
  },
)
// Nothing flashes before everybody was warned.
function guarded(run: () => void) {
  if (!mayEdit() || !session.value) return
  if (session.value.warned_at) run()
  else {
    after = run
    warning.value = true
  }
}
async function accept() {
  warning.value = false
  if (await lag.accept()) after?.()
  after = null
}
</script>

<template>
  <ScreenHead
    :title="`Lag bench: ${session?.device_label ?? 'no screen chosen'}`"
    :device="device"
    :screens="screens"
    @pick="picked = $event"
  >
    <PartNav v-if="session" :parts="PARTS" :shown="shown" />
  </ScreenHead>
  <div v-if="job.view && !screens.length" class="empty">
    <b>No screen yet.</b> Add one on <RouterLink to="gear">Gear</RouterLink>; a run is not needed to measure
    its lag.
  </div>
  <p v-else-if="!session && !mayEdit()" class="empty"><b>No reading yet.</b> A technician opens the bench.</p>
  <p v-if="lag.failed.value" class="attn" role="alert">{{ lag.failed.value }}</p>
  <template v-if="session">
    <component :is="shown.part" :guarded="guarded" />
    <p class="small quiet foot">
      <template v-if="session.warned_at"
        >Flashing-picture warning read and accepted.
        <button class="plain small" @click="warning = true">Show again</button></template
      >
      <template v-else>The flashing-picture warning comes before the first reading.</template>
    </p>
  </template>
  <Teleport defer to="#why-own">
    <LagVerdicts v-if="session" :report="session.report" />
  </Teleport>
  <Dialog v-model:visible="warning" modal header="The picture will flash" :style="{ width: '480px' }">
    <p>
      Lag testing flashes the screen. Flashing light can bring on seizures in people with
      <b>photosensitive epilepsy</b>, also where it never happened before.
    </p>
    <p>Warn everybody in the room. Look away from the flashing patch. Stop at the first discomfort.</p>
    <p class="row end">
      <button @click="warning = false">Not now</button>
      <button class="go" autofocus @click="accept">I have warned everybody: go on</button>
    </p>
  </Dialog>
</template>

<style scoped>
.foot {
  margin-top: 8px;
}
.end {
  justify-content: flex-end;
  margin-top: 14px;
}
</style>
