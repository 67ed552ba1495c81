<script setup lang="ts">
// Where two wishes exclude each other on the chosen run: what each way gains and loses, in figures.
import { computed } from 'vue'

import { api, ask, type Choice } from '../../api/client'
import { useRunAnswer } from '../../shared/answers'
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'

const job = useJob()
const { data, fresh } = useRunAnswer('choices', (path) =>
  ask(api.GET('/api/v1/jobs/{job_uid}/runs/{run_uid}/choices', { params: { path } })),
)
const weighty = computed(() => data.value?.filter((c) => c.weighty) ?? [])
const LEVELS = {
  title: 'by the title’s style',
  run: 'by the run’s style',
  job: 'by house style',
  default: 'by default',
}
const take = (c: Choice, w: Choice['ways'][number]) =>
  fresh.value && void job.change(w.ops, `${c.title}: ${w.label}`)
</script>

<template>
  <section v-if="weighty.length" aria-label="What excludes what">
    <h2>{{ job.run?.label }}: not both</h2>
    <article v-for="c in weighty" :key="c.id" class="plate">
      <h3>{{ c.title }}</h3>
      <div class="ways">
        <div v-for="w in c.ways" :key="w.label" class="way" :class="{ on: w.picked }">
          <p class="name">
            <b>{{ w.label }}</b>
            <small v-if="w.picked">picked {{ LEVELS[c.level] }}</small>
          </p>
          <ul>
            <li v-for="g in w.gains" :key="g"><span class="sign">+</span>{{ g }}</li>
            <li v-for="l in w.losses" :key="l"><span class="sign">−</span>{{ l }}</li>
          </ul>
          <p class="figs">
            <span v-for="f in c.figures" :key="f"
              ><small>{{ f }}</small> <span class="fig">{{ w.figures[f] ?? 'not known' }}</span></span
            >
          </p>
          <ul v-if="w.elsewhere.length" aria-label="What it does to others" class="else">
            <li v-for="e in w.elsewhere" :key="e.words" :class="{ attn: e.worse }">
              <span class="sign">{{ e.worse ? '!' : '·' }}</span>{{ e.words }}
            </li>
          </ul>
          <button v-if="mayEdit() && w.ops.length" class="slight" @click="take(c, w)">
            Plan it<span class="sr">: {{ w.label }}</span>
          </button>
        </div>
      </div>
    </article>
  </section>
</template>

<style scoped>
section {
  margin-bottom: 14px;
  max-width: 900px;
}
h2 {
  font-size: 14.5px;
  color: var(--ink);
  margin-bottom: 3px;
}
article {
  margin-bottom: 8px;
}
h3 {
  font-size: 13.5px;
  padding: 7px 10px 5px;
}
.ways {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(230px, 1fr));
  border-top: 1px solid var(--rule);
}
.way {
  padding: 6px 10px 8px;
  border-right: 1px solid var(--rule);
}
.way:last-child {
  border-right: 0;
}
.way.on {
  box-shadow: inset 3px 0 0 var(--signal);
}
.name {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  align-items: baseline;
}
ul {
  list-style: none;
  padding: 0;
  font-size: 13px;
}
li {
  display: grid;
  grid-template-columns: 14px 1fr;
  line-height: 1.35;
}
.sign {
  font-family: var(--figure);
  font-weight: 600;
}
.else {
  margin-top: 3px;
}
.figs {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  margin: 3px 0;
  font-size: 13px;
}
</style>
