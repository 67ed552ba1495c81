<script setup lang="ts">
// What differs first on the way; what may be behind it is searched for on its own sheet.
import { api, ask, type Prove } from '../../api/client'
import { useRunAnswer } from '../../shared/answers'
import { sentence } from '../../shared/words'

defineProps<{ prove: Prove }>()
const { data: fault } = useRunAnswer('fault', (path) =>
  ask(api.GET('/api/v1/jobs/{job_uid}/runs/{run_uid}/fault', { params: { path } })),
)
const percent = (share: number) => `${Math.round(share * 100)} %`
</script>

<template>
  <section class="suspects" aria-label="What differs">
    <p>
      <b>{{ prove.first_differs }}</b> differs first on the way<template v-if="prove.differ > 1"
        >, and {{ prove.differ - 1 }} more {{ prove.differ === 2 ? 'line' : 'lines' }}</template
      >. What is noted and what was seen contradict each other.
    </p>
    <template v-for="d in prove.doubts" :key="d.about">
      <h2>{{ d.about }}: which of the two?</h2>
      <ol class="either">
        <li>Either {{ d.either }},</li>
        <li>or {{ d.other }}.</li>
      </ol>
      <p class="small">
        <b>{{ d.check }}</b> {{ sentence(d.told[0] ?? '') }} {{ sentence(d.told[1] ?? '') }}
      </p>
    </template>
    <template v-if="fault?.causes.length">
      <h2>What may be behind it, tried in the model</h2>
      <ol>
        <li v-for="c in fault.causes.slice(0, 3)" :key="c.id">
          <span
            ><b class="fig">{{ percent(c.share) }}</b> {{ c.what.join('; and ') }}</span
          >
        </li>
      </ol>
    </template>
    <p>
      <RouterLink to="fault">Find the fault</RouterLink>
      <small class="quiet"> with what was seen filled in; nobody has looked for a cause yet.</small>
    </p>
  </section>
</template>

<style scoped>
.suspects {
  border: 1px solid var(--blocked);
  border-left-width: 5px;
  background: var(--plate);
  padding: 8px 12px;
  margin-bottom: 12px;
  max-width: 900px;
}
ol {
  padding: 0;
  list-style: none;
}
li {
  padding: 3px 0;
  border-top: 1px solid var(--rule);
}
h2 {
  margin-top: 6px;
}
</style>
