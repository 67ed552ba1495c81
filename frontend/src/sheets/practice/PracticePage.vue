<script setup lang="ts">
// Practice: find faults hidden in a rig, against the clock of what every look costs. Apart from all jobs.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'

import { api, ask, Problem, type Game } from '../../api/client'
import { tell } from '../../shared/announce'
import { whoAmI } from '../../shared/session'
import CasePick from './CasePick.vue'
import GameView from './GameView.vue'

const router = useRouter()
const queries = useQueryClient()
onMounted(async () => {
  document.title = 'Practice · Wavilex'
  if (!(await whoAmI())) await router.replace('/enter')
})
const game = ref<Game | null>(null)
const busy = ref(false)
const { data, error } = useQuery({
  queryKey: ['practice'],
  queryFn: () => ask(api.GET('/api/v1/practice')),
  refetchOnMount: 'always',
})
async function doing(call: () => Promise<Game>) {
  if (busy.value) return
  busy.value = true
  try {
    game.value = await call()
    await queries.invalidateQueries({ queryKey: ['practice'] })
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    tell(problem.detail, { bad: true })
  } finally {
    busy.value = false
  }
}
const begin = (text: string) => doing(() => ask(api.POST('/api/v1/practice', { body: { case: text } })))
const resume = (uid: string) =>
  doing(() => ask(api.GET('/api/v1/practice/games/{uid}', { params: { path: { uid } } })))
function move(key: string) {
  const g = game.value
  if (!g) return
  const body = { number: g.moves.length, key }
  const call = api.POST('/api/v1/practice/games/{uid}/moves', { params: { path: { uid: g.uid } }, body })
  void doing(() => ask(call))
}
const done = computed(() => Object.keys(data.value?.best ?? {}).length)
</script>

<template>
  <header class="top">
    <RouterLink to="/" class="mark">Wavilex</RouterLink>
    <RouterLink to="/" class="button">Jobs</RouterLink>
  </header>
  <main class="page">
    <header class="row head">
      <h1>Practice</h1>
      <p v-if="data" class="quiet">
        {{ done }} {{ done === 1 ? 'case' : 'cases' }} solved by this account. Nothing here touches a job, the
        shelf or what was learned.
      </p>
      <button v-if="game" class="leave" @click="game = null">Another case</button>
    </header>
    <p v-if="error" class="attn">{{ error.message }}</p>
    <GameView v-if="game" :game="game" :busy="busy" @move="move" @again="begin(game.case)" />
    <CasePick v-else-if="data" :practice="data" :busy="busy" @begin="begin" @resume="resume" />
  </main>
</template>

<style scoped>
.top {
  display: flex;
  gap: 16px;
  align-items: center;
  padding: 6px 16px;
  border-bottom: 1px solid var(--rule-strong);
  background: var(--plate);
}
.mark {
  font-weight: 700;
  color: var(--ink);
  text-decoration: none;
}
.page {
  padding: 14px 18px 40px;
  max-width: 1240px;
  margin: 0 auto;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
  margin-bottom: 12px;
}
.head p {
  margin: 0;
  flex: 1 1 300px;
}
</style>
