<script setup lang="ts">
// Twelve cases ship; any rig, level and seed makes another, and the same text is the same case everywhere.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { api, ask, type Practice } from '../../api/client'

const props = defineProps<{ practice: Practice; busy: boolean }>()
const emit = defineEmits<{ begin: [text: string]; resume: [uid: string] }>()
const level = ref('leads')
const rig = ref('template/console-receiver')
const seed = ref(String(1 + Math.floor(Math.random() * 9999)))
const typed = ref('')
const { data: jobs } = useQuery({
  queryKey: ['jobs', 'practice'],
  queryFn: () => ask(api.GET('/api/v1/jobs')),
})
const job = ref('')
const { data: own } = useQuery({
  queryKey: ['practice-rigs', job],
  queryFn: () =>
    ask(api.GET('/api/v1/practice/rigs/{job_uid}', { params: { path: { job_uid: job.value } } })),
  enabled: computed(() => !!job.value),
})
const RIGS = [
  ['template/console-tv', 'a console and a television'],
  ['template/console-receiver', 'through a receiver'],
  ['template/console-bar', 'with a bar on the return channel'],
  ['template/pc-monitor', 'a PC and a monitor'],
  ['template/old-machine', 'an old machine through a converter'],
  ['demo/den', 'the demo’s den'],
  ['demo/dock', 'the demo’s handheld'],
  ['demo/c16', 'the demo’s home computer'],
] as const
const text = computed(() => typed.value.trim() || `${rig.value} ${level.value} ${seed.value || 1}`)
const open = computed(() => props.practice.games.filter((g) => g.points === null && g.moves > 0))
const pointsOf = (c: string) => props.practice.best[c]
const rows = computed(() => jobs.value?.jobs ?? [])
</script>

<template>
  <div class="pick">
    <section aria-label="Cases">
      <h2>Cases</h2>
      <ol>
        <li v-for="(c, n) in practice.cases" :key="c.case">
          <button :disabled="busy" @click="emit('begin', c.case)">
            <span class="no fig">{{ n + 1 }}</span>
            <span class="title">{{ c.title }}</span>
            <small v-if="pointsOf(c.case) !== undefined" class="points fig"
              >{{ pointsOf(c.case) }} of 100</small
            >
            <small v-else class="points quiet">not solved</small>
          </button>
        </li>
      </ol>
    </section>
    <section aria-label="Another case" class="made">
      <h2>Make one</h2>
      <p>
        <label for="level">Level, in the order of work</label>
        <select id="level" v-model="level">
          <option v-for="x in practice.levels" :key="x.id" :value="x.id">{{ x.title }}</option>
        </select>
      </p>
      <p>
        <label for="rig">Rig</label>
        <select id="rig" v-model="rig">
          <option v-for="[id, name] in RIGS" :key="id" :value="id">{{ name }}</option>
          <option v-for="r in own ?? []" :key="r.name" :value="r.name">{{ r.label }} (own job)</option>
        </select>
      </p>
      <p v-if="rows.length">
        <label for="job">Runs of a job of one’s own</label>
        <select id="job" v-model="job">
          <option value="">none</option>
          <option v-for="j in rows" :key="j.uid" :value="j.uid">{{ j.title }}</option>
        </select>
      </p>
      <p>
        <label for="seed">Seed</label>
        <input id="seed" v-model="seed" inputmode="numeric" maxlength="9" />
      </p>
      <p>
        <label for="text">or the text of a case somebody gave you</label>
        <input id="text" v-model="typed" placeholder="demo/den formats 7" maxlength="120" />
      </p>
      <button class="go" :disabled="busy" @click="emit('begin', text)">Begin</button>
      <p class="small quiet">
        This case is <code class="fig">{{ text }}</code>
      </p>
      <template v-if="open.length">
        <h2>Open games</h2>
        <ul>
          <li v-for="g in open" :key="g.uid">
            <button class="plain" @click="emit('resume', g.uid)">{{ g.case }}</button>
            <small class="quiet">{{ g.moves }} {{ g.moves === 1 ? 'move' : 'moves' }}</small>
          </li>
        </ul>
      </template>
    </section>
  </div>
</template>

<style scoped>
.pick {
  display: grid;
  grid-template-columns: minmax(0, 1.3fr) minmax(280px, 1fr);
  gap: 22px;
}
ol,
ul {
  list-style: none;
  padding: 0;
}
ol {
  display: grid;
  gap: 6px;
  margin-top: 6px;
}
ol button {
  display: grid;
  grid-template-columns: 30px 1fr auto;
  gap: 8px;
  width: 100%;
  text-align: left;
  align-items: baseline;
  font-weight: 500;
  min-height: 40px;
  border-color: var(--rule);
}
.no {
  color: var(--ink-2);
}
.made {
  border: 1px solid var(--rule-strong);
  background: var(--plate);
  padding: 10px 14px;
  align-self: start;
}
.made p {
  margin: 6px 0;
}
.made label {
  display: block;
}
.made select,
.made input {
  width: 100%;
}
@media (max-width: 700px) {
  .pick {
    grid-template-columns: 1fr;
  }
}
</style>
