<script setup lang="ts">
// Screens side by side: every cell of every screen of the job against one named baseline, and over days and firmware.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { api, ask } from '../../api/client'
import { useJob } from '../../shared/job'
import { signedMs } from '../../shared/words'
import { usedLag } from './useLag'

const job = useJob()
const { session } = usedLag()
const baseline = ref('')
const { data } = useQuery({
  queryKey: computed(() => ['lag-beside', job.view?.uid, baseline.value, session.value?.total]),
  queryFn: () =>
    ask(
      api.GET('/api/v1/jobs/{job_uid}/lag/beside', {
        params: { path: { job_uid: job.view?.uid ?? '' }, query: { baseline: baseline.value } },
      }),
    ),
  enabled: computed(() => !!job.view),
  placeholderData: (before: unknown) => before as never,
})
const rows = computed(() => data.value?.rows ?? [])
const most = computed(() => Math.max(1, ...rows.value.map((r) => r.ci_high_ms ?? r.lag_ms)))
const percent = (ms: number) => `${(100 * ms) / most.value}%`
const named = (r: (typeof rows.value)[number]) => `${r.screen}, ${r.condition}`
</script>

<template>
  <section aria-label="Screens side by side">
    <p v-if="data && !rows.length" class="empty">
      <b>No screen of this job is measured yet.</b> Choose a screen above and take readings; each then stands
      here beside the others.
    </p>
    <template v-else-if="data">
      <p class="row">
        <label for="beside-baseline">held against</label>
        <select
          id="beside-baseline"
          :value="data.baseline"
          @change="baseline = ($event.target as HTMLSelectElement).value"
        >
          <option v-for="r in rows" :key="r.key" :value="r.key">{{ named(r) }}</option>
        </select>
      </p>
      <table class="plain" aria-label="Lag of every screen">
        <thead>
          <tr>
            <th>screen</th>
            <th>lag</th>
            <th class="wide"><span class="sr">drawn</span></th>
            <th>against the baseline</th>
            <th>as a multiple</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.key" :class="{ base: r.key === data.baseline }">
            <td>
              <b>{{ r.screen }}</b><small>{{ r.condition }}, {{ r.by }}</small>
              <small v-for="o in r.over" :key="o.name" class="fig"
                >{{ o.name }}: {{ o.lag_ms.toFixed(1) }} ms of {{ o.n }}</small
              >
            </td>
            <td class="fig">
              {{ r.lag_ms.toFixed(1) }} ms
              <small v-if="r.ci_low_ms !== null"
                >{{ r.ci_low_ms.toFixed(1) }} to {{ r.ci_high_ms?.toFixed(1) }}</small
              >
            </td>
            <td class="wide" aria-hidden="true">
              <div class="drawn">
                <i class="bar" :style="{ width: percent(r.lag_ms) }"></i>
                <i
                  v-if="r.ci_low_ms !== null && r.ci_high_ms !== null"
                  class="span"
                  :style="{ left: percent(r.ci_low_ms), width: percent(r.ci_high_ms - r.ci_low_ms) }"
                ></i>
              </div>
            </td>
            <td class="fig">
              <template v-if="r.against_ms !== null"
                >{{ signedMs(r.against_ms) }} ms
                <small v-if="r.against_low_ms !== null"
                  >{{ signedMs(r.against_low_ms) }} to {{ signedMs(r.against_high_ms) }}</small
                >
                <small class="words"
                  >{{ r.decided }}<template v-if="r.not_alike">; {{ r.not_alike }}</template></small
                >
              </template>
              <span v-else class="quiet words">the baseline</span>
            </td>
            <td class="fig">{{ r.ratio === null ? '–' : `${r.ratio.toFixed(2)}×` }}</td>
          </tr>
        </tbody>
      </table>
      <p class="small quiet">{{ data.footing }}</p>
    </template>
  </section>
</template>

<style scoped>
td small {
  display: block;
  color: var(--ink-2);
  font-weight: 400;
}
.words {
  font-family: var(--body);
}
.wide {
  width: 30%;
}
.drawn {
  position: relative;
  margin-top: 5px;
}
.bar {
  display: block;
  height: 12px;
  background: var(--signal-soft);
  border: 1px solid var(--rule-strong);
}
.span {
  position: absolute;
  top: 5px;
  height: 3px;
  min-width: 2px;
  background: var(--ink);
}
.base {
  background: var(--signal-soft);
}
.base .bar {
  background: var(--signal);
}
</style>
