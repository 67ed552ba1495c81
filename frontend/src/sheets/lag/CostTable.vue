<script setup lang="ts">
// What each setting costs by itself: measured with nothing else different, proved or not, and whether it is used.
import { computed } from 'vue'

import { mayEdit } from '../../shared/session'
import { signedMs } from '../../shared/words'
import { usedLag } from './useLag'

const lag = usedLag()
const { session } = lag
const costs = computed(() => session.value?.report.setting_costs ?? [])
const kept = computed(() => new Set(session.value?.kept_costs ?? []))
const waiting = computed(() => costs.value.filter((c) => c.proved && !kept.value.has(c.path)).length)
function stands(c: (typeof costs.value)[number]): string {
  if (kept.value.has(c.path)) return 'used'
  if (c.proved) return 'not used yet'
  return c.one_firmware ? 'not proved: take more' : 'readings of two firmwares: take them again'
}
</script>

<template>
  <template v-if="costs.length">
    <h2>What each setting costs, all else alike</h2>
    <table class="plain" aria-label="What each setting costs">
      <thead>
        <tr>
          <th>setting</th>
          <th>costs</th>
          <th>decided</th>
          <th>from</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="c in costs" :key="c.path + c.by">
          <td>
            <b>{{ c.words }}</b><small v-if="c.at">{{ c.at }}</small>
          </td>
          <td class="fig">
            {{ signedMs(c.ms) }} ms
            <small v-if="c.ci_low_ms !== null && c.ci_high_ms !== null"
              >{{ signedMs(c.ci_low_ms) }} to {{ signedMs(c.ci_high_ms) }}</small
            >
          </td>
          <td>
            <b>{{ c.decided }}</b><small>{{ c.because }}</small>
          </td>
          <td>
            {{ c.n }} readings each, {{ c.by }}
            <small>{{ c.firmware ? `firmware ${c.firmware}` : 'firmware not noted' }}, {{ c.day }}</small>
          </td>
          <td :class="{ attn: !kept.has(c.path) && c.proved }">{{ stands(c) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="waiting && mayEdit()" class="row">
      <button class="go" @click="lag.useCosts">
        {{ waiting === 1 ? 'Use this cost' : `Use these ${waiting} costs` }}
      </button>
      <span class="small quiet"
        >They go to the screen’s record and replace what its maker claims: on Settings, in choices, in the
        search for a fault, in the chain. Another firmware makes them stale.</span
      >
    </p>
  </template>
</template>

<style scoped>
h2 {
  margin-top: 4px;
}
td small {
  display: block;
  color: var(--ink-2);
  font-weight: 400;
}
table {
  margin-bottom: 8px;
}
</style>
