<script setup lang="ts">
// A figure by ECharts: the option comes from the sheet, colours from the look's tokens; drawn anew when the theme turns.
import { BoxplotChart, BarChart, CustomChart, LineChart, ScatterChart } from 'echarts/charts'
import { GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components'
import { init, use, type EChartsCoreOption } from 'echarts/core'
import { CanvasRenderer, SVGRenderer } from 'echarts/renderers'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'

import { theme } from './theme'
import { inks, type Inks } from './inks'

use([
  BarChart,
  BoxplotChart,
  CustomChart,
  LineChart,
  ScatterChart,
  GridComponent,
  MarkLineComponent,
  TooltipComponent,
  CanvasRenderer,
  SVGRenderer,
])

const props = defineProps<{
  option: (inks: Inks) => EChartsCoreOption
  label: string
  height: number
  many?: boolean
}>()
const box = ref<HTMLDivElement>()
let chart: ReturnType<typeof init> | null = null
let watcher: ResizeObserver | null = null

function draw() {
  chart?.setOption(
    {
      animation: false,
      textStyle: { fontFamily: inks().body, color: inks().ink2, fontSize: 13 },
      ...props.option(inks()),
    },
    true,
  )
}
onMounted(() => {
  if (!box.value) return
  // lines print well; very many points are painted
  chart = init(box.value, undefined, { renderer: props.many ? 'canvas' : 'svg' })
  watcher = new ResizeObserver(() => chart?.resize())
  watcher.observe(box.value)
  draw()
})
watch(() => [props.option, theme.value], draw)
watch(
  () => props.height,
  () => chart?.resize(),
)
onBeforeUnmount(() => {
  watcher?.disconnect()
  chart?.dispose()
})
</script>

<template>
  <div ref="box" role="img" :aria-label="label" class="figure" :style="{ height: `${height}px` }"></div>
</template>

<style scoped>
.figure {
  width: 100%;
}
</style>
