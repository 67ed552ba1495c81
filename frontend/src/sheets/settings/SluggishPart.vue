<script setup lang="ts">
// “It lags”: one look at the screen divides the causes; what the model knows ranks them.
import { ref } from 'vue'

import { api, ask, type Cause } from '../../api/client'
import { useRunAnswer } from '../../shared/answers'
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'
import { sentence } from '../../shared/words'

type Seen = 'available' | 'greyed' | 'not_looked'
const job = useJob()
const seen = ref<Seen>('not_looked')
const WAYS: [Seen, string][] = [
  ['not_looked', 'not looked yet'],
  ['available', 'they can be chosen'],
  ['greyed', 'they are greyed out'],
]
const { data, error, fresh } = useRunAnswer(
  'sluggish',
  (path) =>
    ask(
      api.GET('/api/v1/jobs/{job_uid}/runs/{run_uid}/sluggish', {
        params: { path, query: { game_options: seen.value } },
      }),
    ),
  { also: () => [seen.value] },
)
const mend = (c: Cause) => fresh.value && void job.change(c.ops, c.title)
</script>

<template>
  <section aria-label="It lags">
    <p class="row ask">
      <b>On {{ job.run?.label ?? 'no run yet' }}, the screen’s game options:</b>
      <span class="ways row" role="group" aria-label="The screen’s game options">
        <button
          v-for="[id, name] in WAYS"
          :key="id"
          :class="{ on: seen === id }"
          :aria-pressed="seen === id"
          @click="seen = id"
        >
          {{ name }}
        </button>
      </span>
    </p>
    <p v-if="error" class="attn">{{ error.message }}</p>
    <ol>
      <li v-for="c in data ?? []" :key="c.id" :class="{ first: c.rank === 1 }">
        <span class="rank fig">{{ c.rank }}</span>
        <div>
          <b>{{ c.title }}</b>
          <p class="small quiet">{{ sentence(c.why) }}</p>
          <p class="small"><b>What decides it:</b> {{ c.check }}</p>
        </div>
        <button v-if="c.ops.length && mayEdit()" class="slight" @click="mend(c)">
          Plan the cure<span class="sr">: {{ c.title }}</span>
        </button>
      </li>
    </ol>
    <p class="small quiet">
      Ranked by what is usual and by what was found in this job: an order, not a probability. A feeling is a
      guess: <RouterLink to="lag">measure the lag</RouterLink> before and after.
    </p>
  </section>
</template>

<style scoped>
section {
  max-width: 860px;
}
.ask {
  margin-bottom: 8px;
}
ol {
  list-style: none;
  padding: 0;
  background: var(--plate);
  border: 1px solid var(--rule-strong);
  margin-bottom: 8px;
}
li {
  display: grid;
  grid-template-columns: 26px 1fr auto;
  gap: 4px 10px;
  padding: 8px 12px;
  border-bottom: 1px solid var(--rule);
  align-items: start;
}
li:last-child {
  border-bottom: 0;
}
li.first {
  box-shadow: inset 4px 0 0 var(--signal);
}
.rank {
  color: var(--ink-2);
}
</style>
