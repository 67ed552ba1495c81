<script setup lang="ts">
// A transfer function drawn, the screen's measured points over it, and the levels of both ends.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'

import { api, ask, type LightCell, type LightScreen } from '../../api/client'
import FigureChart from '../../shared/FigureChart.vue'
import CellPick from './CellPick.vue'
import { scaleCurve } from './curves'
import MeterBox from './MeterBox.vue'
import { cd, figure } from './words'

const props = defineProps<{ light: LightScreen; cell: LightCell | null }>()
const emit = defineEmits<{ cell: [scope: string] }>()
type Document = 'pq' | 'hlg' | 'bt1886' | 'power'
const DOCUMENTS: [Document, string][] = [
  ['pq', 'PQ (ST 2084)'],
  ['hlg', 'HLG (BT.2100)'],
  ['bt1886', 'BT.1886'],
  ['power', 'power law 2.2'],
]
const picked = ref<Document>('bt1886')
const bits = ref(10)
const white = ref('120')
const black = ref('0')
watch(
  () => props.cell?.scope,
  () => {
    picked.value = props.cell?.hdr ? 'pq' : 'bt1886'
    const most = Math.max(0, ...(props.cell?.track?.points ?? []).map((p) => p.light))
    if (most) white.value = cd(most)
  },
  { immediate: true },
)
const asked = computed(() => ({
  document: picked.value,
  bits: bits.value,
  white: figure(white.value) || 100,
  black: figure(black.value) || 0,
}))
const { data: scale, error } = useQuery({
  queryKey: ['scale', asked],
  queryFn: () => ask(api.GET('/api/v1/light/scale', { params: { query: asked.value } })),
  placeholderData: (old) => old,
})
const option = computed(() =>
  scale.value ? scaleCurve(scale.value, props.cell?.track ?? null, picked.value === 'pq') : null,
)
</script>

<template>
  <CellPick :light="light" :cell="cell" @cell="emit('cell', $event)" />
  <div class="row">
    <label class="row">
      Curve
      <select v-model="picked" aria-label="Curve">
        <option v-for="[id, name] in DOCUMENTS" :key="id" :value="id">{{ name }}</option>
      </select>
    </label>
    <label class="row">
      Bits
      <select v-model.number="bits" aria-label="Bits">
        <option v-for="b in [8, 10, 12]" :key="b" :value="b">{{ b }}</option>
      </select>
    </label>
    <template v-if="picked !== 'pq'">
      <label class="row">White, cd/m² <input v-model="white" class="short fig" inputmode="decimal" /></label>
      <label class="row">Black <input v-model="black" class="short fig" inputmode="decimal" /></label>
    </template>
  </div>
  <p v-if="error" class="attn">{{ error.message }}</p>
  <p v-if="cell?.track">{{ cell.name }}: {{ cell.track.said }}.</p>
  <p v-else-if="cell" class="small quiet">
    Three readings at different signals, full white among them, and the screen’s own curve stands over this
    one.
  </p>
  <FigureChart
    v-if="option"
    :option="option"
    :height="320"
    label="Signal against light, by the document and as measured"
  />
  <section v-if="scale" aria-label="Levels">
    <h2>Levels of the two ends</h2>
    <p class="small">
      {{ scale.bits }} bits: limited runs from {{ scale.limited_black }} to {{ scale.limited_white }}, full
      from {{ scale.full_black }} to {{ scale.full_white }}.
    </p>
    <p v-for="m in scale.mismatches" :key="m.source" class="small">
      <b>Source {{ m.source }}, screen {{ m.screen }}:</b> {{ m.looks }} ({{ m.figures }}). {{ m.cure }}.
    </p>
  </section>
  <MeterBox v-if="cell" :light="light" :cell="cell" :next="null" />
  <details v-if="scale">
    <summary>As a table</summary>
    <table class="plain small">
      <thead>
        <tr>
          <th scope="col">Signal</th>
          <th scope="col">Code, limited</th>
          <th scope="col">Code, full</th>
          <th scope="col">cd/m²</th>
        </tr>
      </thead>
      <tbody class="fig">
        <tr v-for="r in scale.rows" :key="r.percent">
          <td>{{ r.percent.toFixed(1) }} %</td>
          <td>{{ r.limited }}</td>
          <td>{{ r.full }}</td>
          <td>{{ cd(r.light) }}</td>
        </tr>
      </tbody>
    </table>
  </details>
</template>

<style scoped>
.row {
  flex-wrap: wrap;
  gap: 6px 14px;
}
.short {
  width: 76px;
}
section,
details {
  margin: 8px 0;
}
</style>
