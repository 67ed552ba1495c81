<script setup lang="ts">
// The backs of the boxes that some sockets belong to, each once, those sockets lit.
import { computed } from 'vue'

import BackPanel from './BackPanel.vue'
import { useJob } from './job'

const props = defineProps<{ sockets: { device: string; port: string }[] }>()
const job = useJob()
const panels = computed(() => {
  const boxes = new Map<string, string[]>()
  for (const s of props.sockets) boxes.set(s.device, [...(boxes.get(s.device) ?? []), s.port])
  return [...boxes].flatMap(([uid, lit]) => {
    const device = job.deviceOf(uid)
    return device ? [{ device, lit }] : []
  })
})
</script>

<template>
  <BackPanel v-for="p in panels" :key="p.device.uid" :device="p.device" :lit="p.lit" />
</template>
