<script setup lang="ts">
// The light of a screen: what the room asks, cell by cell what to set and why; HDR end to end; black, colour, panel.
import { computed, provide, ref } from 'vue'

import { useJob } from '../../shared/job'
import PartNav from '../../shared/PartNav.vue'
import { useParts, type Part } from '../../shared/parts'
import ScreenHead from '../../shared/ScreenHead.vue'
import HdrPart from './HdrPart.vue'
import PanelPart from './PanelPart.vue'
import ReadingsPart from './ReadingsPart.vue'
import RoomForm from './RoomForm.vue'
import ScalePart from './ScalePart.vue'
import ShadePart from './ShadePart.vue'
import { LIGHT, useLight } from './useLight'
import WhitePart from './WhitePart.vue'

const PARTS: readonly [Part, ...Part[]] = [
  { id: 'white', name: 'White', part: WhitePart },
  { id: 'hdr', name: 'HDR', part: HdrPart },
  { id: 'shade', name: 'Black and colour', part: ShadePart },
  { id: 'scale', name: 'Curve', part: ScalePart },
  { id: 'panel', name: 'Panel', part: PanelPart },
  { id: 'readings', name: 'Readings', part: ReadingsPart },
]
const job = useJob()
const shown = useParts(PARTS)
const held = useLight()
provide(LIGHT, held)
const { light, error, picked } = held
const scope = ref('')
const cell = computed(
  () => light.value?.cells.find((c) => c.scope === scope.value) ?? light.value?.cells[0] ?? null,
)
</script>

<template>
  <ScreenHead
    :title="`Light: ${light?.label ?? 'no screen'}`"
    :device="light?.device ?? ''"
    :screens="light?.screens ?? []"
    @pick="picked = $event"
  >
    <PartNav v-if="light" :parts="PARTS" :shown="shown" />
  </ScreenHead>
  <p v-if="error" class="attn">{{ error.message }}</p>
  <div v-if="job.view && !job.view.devices.some((d) => d.role === 'screen')" class="empty">
    <b>No screen yet.</b> Add one on <RouterLink to="gear">Gear</RouterLink>; a run is not needed to read its
    light.
  </div>
  <template v-if="light">
    <component :is="shown.part" :light="light" :cell="cell" @cell="scope = $event" />
    <Teleport defer to="#why-own">
      <RoomForm :light="light" />
    </Teleport>
  </template>
</template>
