<script setup lang="ts">
// The lag of the whole chain, part by part, and the sound against the picture.
import { computed, defineAsyncComponent, ref } from 'vue'

import { api, ask } from '../../api/client'
import { useRunAnswer } from '../../shared/answers'
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'
import LazyField from '../../shared/LazyField.vue'
import { ms, sentence } from '../../shared/words'
import { budgetBar } from './figures'
import { usedLag } from './useLag'

const FigureChart = defineAsyncComponent(() => import('../../shared/FigureChart.vue'))
const job = useJob()
const { session } = usedLag()
const condition = ref('')
const fps = ref('')
const { data, error } = useRunAnswer(
  'budget',
  (path) =>
    ask(
      api.GET('/api/v1/jobs/{job_uid}/runs/{run_uid}/lag-budget', {
        params: {
          path,
          query: { condition: condition.value, ...(fps.value ? { fps: Number(fps.value) } : {}) },
        },
      }),
    ),
  { also: () => [session.value?.total, condition.value, fps.value] },
)
const rates = computed(() =>
  [...new Set((job.view?.titles ?? []).flatMap((t) => t.modes.map((m) => m.fps)))].sort((a, b) => b - a),
)
const modes = computed(() => data.value?.lip_sync.map((r) => r.condition) ?? [])
const figure = computed(() => (data.value?.parts.length ? budgetBar(data.value.parts) : null))
const span = (low: number, high: number) => (low === high ? ms(low) : `${low.toFixed(1)} to ${ms(high)}`)
function soundLag(text: string) {
  const typed = text.trim()
  const value = typed === '' ? null : Math.round(Number(typed.replace(',', '.')))
  const device = data.value?.plays_device ?? ''
  void job.change([{ op: 'set_fact', device, path: 'sound_lag_ms', value }], 'lag of the sound')
}
</script>

<template>
  <p v-if="error" class="attn">{{ error.message }}</p>
  <section v-if="data" aria-label="Chain">
    <div class="row">
      <p v-if="!data.joined" class="sum">
        No way joins this run: there is no lag to add up. Plug it in on
        <RouterLink to="wiring">Wiring</RouterLink>.
      </p>
      <p v-else class="sum">
        <b>{{ span(data.low_ms, data.high_ms) }}</b> from act to light<template v-if="!data.known"
          >, as far as anybody knows</template
        >
      </p>
      <label for="budget-mode">in</label>
      <select
        id="budget-mode"
        :value="data.condition"
        @change="condition = ($event.target as HTMLSelectElement).value"
      >
        <option v-if="!modes.length" value="">nothing measured</option>
        <option v-for="m in modes" :key="m" :value="m">{{ m }}</option>
      </select>
      <label for="budget-fps">a title at</label>
      <select id="budget-fps" v-model="fps">
        <option value="">the output’s own rate</option>
        <option v-for="r in rates" :key="r" :value="String(r)">{{ r }} frames/s</option>
      </select>
    </div>
    <FigureChart
      v-if="figure"
      :option="figure"
      :label="data.parts.map((p) => `${p.name} ${span(p.low_ms, p.high_ms)}`).join('; ')"
      :height="112"
    />
    <ol>
      <li v-for="p in data.parts" :key="p.name">
        <b>{{ p.name }}</b> <span class="fig">{{ span(p.low_ms, p.high_ms) }}</span>{{ ' ' }}
        <small>{{ p.kind_name }}: {{ p.why }}</small>
      </li>
    </ol>
    <h2>Sound against picture</h2>
    <template v-if="data.plays">
      <p class="row">
        <label for="sound-lag">{{ data.plays }} plays it; its sound comes late by</label>
        <LazyField
          id="sound-lag"
          class="short"
          inputmode="numeric"
          :value="data.sound_lag_ms"
          placeholder="?"
          :disabled="!mayEdit()"
          @say="soundLag"
        />
        <span class="small">ms</span>
      </p>
      <table v-if="data.lip_sync.length" class="plain">
        <thead>
          <tr>
            <th>screen mode</th>
            <th>picture</th>
            <th>delay to set</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in data.lip_sync" :key="r.condition">
            <td>
              <b>{{ r.condition }}</b>
            </td>
            <td class="fig">{{ span(r.picture_ms, r.picture_most_ms) }}</td>
            <td class="fig">{{ r.delay_ms === null ? '–' : `${r.delay_ms} ms` }}</td>
            <td :class="{ attn: r.verdict === 'late' }">{{ sentence(r.words) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-else class="quiet">Measure the picture first.</p>
      <p class="small quiet">
        Within 40 ms early and 60 ms late sound is taken to fit (EBU R 37, value from memory). What plays it
        can only delay it.
      </p>
    </template>
    <p v-else class="quiet">Nothing plays this run’s sound yet: see its sound on Signal.</p>
  </section>
</template>

<style scoped>
.sum {
  font-size: 16.5px;
  flex: 1 1 260px;
}
ol {
  margin: 2px 0 12px;
  padding-left: 22px;
}
li small {
  color: var(--ink-2);
}
h2 {
  font-size: 14.5px;
  color: var(--ink);
  margin: 6px 0 4px;
}
.short {
  width: 64px;
}
</style>
