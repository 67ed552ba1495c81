<script setup lang="ts">
// What each render rate looks like on the chosen run: window, kind, every stage, titles, odd rates.
import { computed, ref } from 'vue'

import { api, ask } from '../../api/client'
import { useRunAnswer } from '../../shared/answers'
import { useJob } from '../../shared/job'
import RefreshPlot from './RefreshPlot.vue'

const job = useJob()
const run = computed(() => job.run)
const without = ref<boolean | null>(null)
const joined = computed(() => run.value?.links.some((l) => l.transport !== null) ?? false)
const { data: refresh, error } = useRunAnswer(
  'refresh',
  (path) =>
    ask(
      api.GET('/api/v1/jobs/{job_uid}/runs/{run_uid}/refresh', {
        params: { path, query: without.value === null ? {} : { repeats: !without.value } },
      }),
    ),
  { also: () => [without.value], enabled: () => joined.value },
)
const TAKEN = (taken: boolean | null) => (taken ? 'taken' : 'not sure')
</script>

<template>
  <section aria-label="Refresh">
    <h2>{{ run?.label ?? 'No run yet' }}</h2>
    <p v-if="!joined" class="empty">
      <b>No digital path.</b> Plug the run in on <RouterLink to="wiring">Wiring</RouterLink> first.
    </p>
    <p v-else-if="error" class="attn">{{ error.message }}</p>
    <template v-else-if="refresh">
      <p class="why">
        {{ refresh.why
        }}<template v-if="refresh.kinds.length"> By {{ refresh.kinds.join(' or ') }}.</template>
      </p>
      <RefreshPlot :data="refresh" />
      <p v-if="refresh.window" class="small row">
        <label class="row">
          <input
            type="checkbox"
            :checked="!refresh.repeats"
            @change="without = ($event.target as HTMLInputElement).checked"
          />
          as if the source repeated no frames
        </label>
        <span class="quiet">{{ refresh.repeats_words }}</span>
      </p>
      <div class="side">
        <table v-if="refresh.titles.length" class="plain titles">
          <thead>
            <tr>
              <th>title</th>
              <th>renders</th>
              <th>looks like</th>
            </tr>
          </thead>
          <tbody v-for="t in refresh.titles" :key="t.name">
            <tr v-for="(r, n) in t.rates" :key="r.fps">
              <td>
                <template v-if="n === 0"
                  ><b>{{ t.name }}</b
                  ><span v-if="t.competitive" class="quiet">, competitive</span></template
                >
              </td>
              <td>
                <span class="fig">{{ r.fps }}</span> <small class="quiet">{{ r.name }}</small>
              </td>
              <td :class="{ attn: !r.even }">{{ r.words }}</td>
            </tr>
          </tbody>
        </table>
        <table class="plain stages">
          <thead>
            <tr>
              <th>passes</th>
              <th>variable refresh</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="s in refresh.stages" :key="s.where">
              <td>{{ s.where }}</td>
              <td>
                <span :class="{ attn: s.says === 'no' }">{{ s.says }}</span>
                <small v-if="s.kinds" class="quiet">{{ s.kinds }}</small>
                <small v-if="s.because" class="quiet">{{ s.because }}</small>
              </td>
            </tr>
          </tbody>
        </table>
        <table v-if="refresh.odd_rates.length" class="plain odd">
          <thead>
            <tr>
              <th>odd rate</th>
              <th>at {{ refresh.fixed_hz }} Hz here</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="o in refresh.odd_rates" :key="o.hz">
              <td class="fig">{{ o.hz }} Hz</td>
              <td>
                <b>{{ TAKEN(o.taken) }}</b> <small class="quiet">{{ o.words }}</small>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
  </section>
</template>

<style scoped>
h2 {
  font-size: 14.5px;
  color: var(--ink);
}
.why {
  font-weight: 600;
}
.side {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(300px, 1fr));
  gap: 12px;
  align-items: start;
  margin-top: 10px;
}
.titles {
  grid-column: 1 / -1;
}
td small {
  display: block;
}
</style>
