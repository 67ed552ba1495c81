<script setup lang="ts">
// Screen and source for each title, solved: how to play it, what flips between titles, what it costs in lag.
import { computed } from 'vue'

import { api, ask, type TitlePlans } from '../../api/client'
import { useRunAnswer } from '../../shared/answers'
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'
import TitleMode from './TitleMode.vue'

const job = useJob()
const { data, isFetched, error, fresh } = useRunAnswer('titles', (path) =>
  ask(api.GET('/api/v1/jobs/{job_uid}/runs/{run_uid}/titles', { params: { path } })),
)
const plan = (t: TitlePlans['titles'][number]) =>
  fresh.value && void job.change(t.ops, `${data.value?.label ?? 'screen'} set for ${t.title}`)
const rows = computed(() => data.value?.rows ?? [])
</script>

<template>
  <p v-if="error" class="attn">{{ error.message }}</p>
  <p v-else-if="isFetched && !data" class="empty">
    <b>Nothing joins this run.</b> Plug it in on <RouterLink to="wiring">Wiring</RouterLink> first.
  </p>
  <section v-if="data" aria-label="Titles">
    <h2>{{ job.run?.label }} on {{ data.label }}</h2>
    <div class="wide">
      <table class="plain">
        <thead>
          <tr>
            <th></th>
            <th v-for="t in data.titles" :key="t.title">
              {{ t.title
              }}<small>{{
                [t.competitive ? 'competitive' : '', t.signal === 'HDR' ? 'HDR' : 'standard range']
                  .filter(Boolean)
                  .join(', ')
              }}</small>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr class="mode">
            <td><b>Play it in</b></td>
            <td v-for="t in data.titles" :key="t.title">
              <TitleMode v-if="t.mode" :mode="t.mode" />
              <span v-else class="quiet">its render rates are not known (Brief)</span>
            </td>
          </tr>
          <tr v-for="r in rows" :key="r.device + r.key" :class="{ flips: r.flips }">
            <td>
              <b>{{ r.label }}</b>
              <small
                >{{ r.device }}<template v-if="r.where"> · {{ r.where }}</template></small
              >
              <small
                >found {{ r.found }}, plan {{ r.plan }}<b v-if="r.flips"> · flips between titles</b></small
              >
              <small v-for="c in r.costs" :key="c.why" :class="{ attn: c.stale }" :title="c.why"
                >measured: {{ c.words }}</small
              >
            </td>
            <td v-for="(c, n) in r.cells" :key="n">
              <template v-if="c"
                ><b>{{ c.label }}</b
                ><small>{{ c.why }}</small></template
              >
              <span v-else class="quiet">as it is</span>
            </td>
          </tr>
          <tr>
            <td><b>Adds lag</b></td>
            <td v-for="t in data.titles" :key="t.title" class="fig">
              {{ t.adds_ms ? `${t.adds_ms.toFixed(1)} ms` : 'none known' }}
              <small v-for="a in t.added" :key="a.words"
                >{{ a.words }} {{ a.ms.toFixed(1) }} ms, {{ a.why.split(':')[0] }}</small
              >
              <small v-if="t.keeps_percent < 100">{{ t.keeps_percent }} % of its light is left</small>
            </td>
          </tr>
          <tr>
            <td><b>Goes without</b></td>
            <td v-for="t in data.titles" :key="t.title" class="small">
              <template v-if="t.missed.length">{{ t.missed.join(' ') }}</template><span v-else class="quiet"
                >nothing it wished for</span
              >
            </td>
          </tr>
          <tr v-if="mayEdit()">
            <td></td>
            <td v-for="t in data.titles" :key="t.title">
              <button class="slight" @click="plan(t)">
                Plan these<span class="sr"> for {{ t.title }}</span>
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="small quiet">
      Which school each title follows is set under
      <RouterLink :to="{ query: { part: 'style' } }">House style</RouterLink>.
    </p>
  </section>
</template>

<style scoped>
h2 {
  font-size: 14.5px;
  color: var(--ink);
  margin-bottom: 4px;
}
.wide {
  overflow-x: auto;
}
small {
  display: block;
  font-weight: 400;
  color: var(--ink-2);
  line-height: 1.35;
}
td:first-child {
  width: 22%;
}
.flips td:first-child {
  box-shadow: inset 3px 0 0 var(--signal);
}
.mode td {
  background: var(--paper);
}
</style>
