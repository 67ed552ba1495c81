<script setup lang="ts">
// HDR end to end: what is shown of the content, who maps it, the source's pages in clicks, what weak HDR costs.
import { computed } from 'vue'

import type { LightCell, LightScreen } from '../../api/client'
import FigureChart from '../../shared/FigureChart.vue'
import CellPick from './CellPick.vue'
import { hdrCurve } from './curves'
import MeterBox from './MeterBox.vue'
import PageRow from './PageRow.vue'
import ReadingList from './ReadingList.vue'
import { cd } from './words'

const props = defineProps<{ light: LightScreen; cell: LightCell | null }>()
const emit = defineEmits<{ cell: [scope: string] }>()
const cells = computed(() => props.light.cells.filter((c) => c.hdr))
const mine = computed(() => (props.cell?.hdr ? props.cell : (cells.value[0] ?? null)))
const runs = computed(() => props.light.hdr.filter((h) => mine.value?.runs.includes(h.label)))
const hdr = computed(() => runs.value[0] ?? null)
const option = computed(() =>
  hdr.value?.line.length ? hdrCurve(hdr.value, mine.value?.track ?? null) : null,
)
</script>

<template>
  <div v-if="!cells.length" class="empty">
    <b>No run asks for HDR here.</b> Want it on <RouterLink to="brief">Brief</RouterLink>, and its cells stand
    here.
  </div>
  <template v-else-if="mine">
    <CellPick :light="light" :cell="mine" only="hdr" @cell="emit('cell', $event)" />
    <p v-for="h in runs.filter((x) => x.warning)" :key="h.run" class="warn" role="alert">{{ h.warning }}</p>
    <template v-for="h in runs" :key="h.run">
      <section :aria-label="`HDR pages of ${h.source}`">
        <h2>{{ h.source }}: clicks on its HDR pages</h2>
        <p v-if="!h.pages.length" class="small quiet">
          The profile of {{ h.source }} has no HDR pages. Calibrate by what its own page says, and note it on
          Settings.
        </p>
        <p class="small quiet">{{ h.order.slice(0, 3).join('; ') }}; {{ h.order[3] }}.</p>
        <PageRow v-for="p in h.pages" :key="p.page" :page="p" :hdr="h" :light="light" :cell="mine" />
      </section>
    </template>
    <template v-if="hdr">
      <h2>Content to light</h2>
      <p class="small">
        <template v-if="hdr.peak">
          Peak {{ hdr.peak }} cd/m², {{ hdr.peak_measured ? 'measured' : 'a claim of its profile' }};
          {{ hdr.full === null ? 'full picture not read' : `full picture ${cd(hdr.full)}` }};
          {{ hdr.black === null ? 'black not read' : `black ${cd(hdr.black)}` }}.
        </template>
        <template v-else>Its peak is not known: read a white patch below.</template>
        Dashed: as the title means it. Solid: as a model has it shown (cut, or BT.2390’s roll-off), no
        measurement<template v-if="mine.track">. Circles: measured; {{ mine.track.said }}</template
        >.
        <template v-if="hdr.source_peak !== null">
          Dotted: what the source sends by its last count, by the model.</template
        >
      </p>
      <FigureChart
        v-if="option"
        :option="option"
        :height="340"
        label="Light of the content against light shown"
      />
      <div class="wide">
        <table v-if="hdr.ways.length" class="plain small">
          <caption class="sr">
            Who maps tones
          </caption>
          <thead>
            <tr>
              <th scope="col">Tones mapped</th>
              <th v-for="l in hdr.lights" :key="l" scope="col" class="fig">{{ l }}</th>
              <th scope="col">Gains</th>
              <th scope="col">Loses</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="w in hdr.ways" :key="w.way" :class="{ now: w.now }">
              <th scope="row">
                {{ w.name }}
                <small v-if="w.now">{{ w.now }}</small>
                <small v-if="w.school">{{ w.school }}</small>
              </th>
              <td v-for="(l, n) in w.shown" :key="n" class="fig">{{ cd(l) }}</td>
              <td>{{ w.gains }}</td>
              <td>{{ w.loses }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <section v-if="hdr.weak" aria-label="Weak HDR">
        <h2>Weak at HDR: what it would cost</h2>
        <table class="plain small">
          <thead>
            <tr>
              <th scope="col">Figure</th>
              <th scope="col">HDR</th>
              <th scope="col">Standard range</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="c in hdr.costs" :key="c.what">
              <th scope="row">{{ c.what }}</th>
              <td>{{ c.hdr }} <b v-if="c.worse === 'yes'">✕ worse</b></td>
              <td>{{ c.sdr }}</td>
            </tr>
          </tbody>
        </table>
        <p class="small">
          House style: HDR
          {{ hdr.school === 'off' ? 'off, for a cleaner standard-range picture' : 'on all the same' }}.
        </p>
      </section>
    </template>
    <MeterBox :light="light" :cell="mine" :next="null" />
    <p class="small quiet">
      Peak: a white patch of 2 and 10 %. Full picture: 100 %. Black: signal 0. The curve: 10 % window at
      signals from 30 to 100 %. A browser sends standard range only: HDR patches come from a title or player
      that sends them.
    </p>
    <ReadingList :readings="mine.readings" />
  </template>
</template>

<style scoped>
.warn {
  border-left: 5px solid var(--blocked);
  background: var(--blocked-soft);
  padding: 8px 12px;
  margin-bottom: 10px;
}
.now th,
.now td {
  background: var(--signal-soft);
}
th small {
  display: block;
  font-weight: 400;
}
.wide {
  overflow-x: auto;
}
h2 {
  margin-top: 14px;
}
</style>
