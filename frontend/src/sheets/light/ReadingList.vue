<script setup lang="ts">
// Readings as they were kept, with what made some of them old; one is taken out by one press, and undo brings it back.
import type { LightCell } from '../../api/client'
import { mayEdit } from '../../shared/session'
import { shortTime } from '../../shared/words'
import { usedLight } from './useLight'
import { cd } from './words'

defineProps<{ readings: LightCell['readings'] }>()
const { drop } = usedLight()
</script>

<template>
  <table v-if="readings.length" class="plain small">
    <caption class="sr">
      Readings
    </caption>
    <thead>
      <tr>
        <th scope="col">Set</th>
        <th scope="col">Window</th>
        <th scope="col">Signal</th>
        <th scope="col">cd/m²</th>
        <th scope="col">x, y</th>
        <th scope="col">How</th>
        <th scope="col">When, by</th>
        <th scope="col"><span class="sr">Act</span></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="r in readings" :key="r.uid" :class="{ old: r.stale }">
        <td class="fig">{{ r.value || '—' }}</td>
        <td class="fig">{{ r.window }} %</td>
        <td class="fig">{{ r.signal_percent }} %</td>
        <td class="fig">{{ cd(r.light) }} ± {{ r.error_percent.toFixed(1) }} %</td>
        <td class="fig">{{ r.x === null ? '' : `${r.x.toFixed(4)}, ${r.y?.toFixed(4)}` }}</td>
        <td>
          {{ r.method }}
          <div v-if="r.stale" class="attn">no longer counts: {{ r.stale }}</div>
        </td>
        <td>{{ shortTime(r.at) }} {{ r.by }}</td>
        <td><button v-if="mayEdit()" class="slight" @click="drop(r.uid)">Take out</button></td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table {
  margin-top: 10px;
}
.old td.fig {
  text-decoration: line-through;
}
</style>
