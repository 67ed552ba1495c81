<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { api, ask, Problem, said } from '../api/client'
import { sendOnce } from '../api/once'
import { watched } from '../api/watched'
import JobAccess from './JobAccess.vue'
import VerdictIcon from '../shared/VerdictIcon.vue'
import { bytes, dueWords, shortTime } from '../shared/words'
import { tell } from '../shared/announce'
import PackPanel from './PackPanel.vue'
import { mayEdit, session, signOut, whoAmI } from '../shared/session'
import { theme, toggleTheme } from '../shared/theme'

const SOON_DAYS = 30
const router = useRouter()
const queries = useQueryClient()
const title = ref('')
const archived = ref(false)
const page = ref(1)
watch(archived, () => (page.value = 1))
const file = ref<HTMLInputElement | null>(null)

onMounted(async () => {
  document.title = 'Jobs · Wavilex'
  if (!(await whoAmI())) await router.replace('/enter')
})
const { data, error, isPending } = useQuery({
  queryKey: computed(() => ['jobs', archived.value, page.value]),
  queryFn: () =>
    ask(api.GET('/api/v1/jobs', { params: { query: { archived: archived.value, page: page.value } } })),
  enabled: computed(() => session.value !== null),
  staleTime: 0,
  placeholderData: (old) => old,
})

const sharing = ref<{ uid: string; title: string } | null>(null)
const removing = ref('')
const reading = ref('')
const share = ref(0)
const pack = ref<File | null>(null)

async function make(call: () => Promise<{ uid: string }>) {
  try {
    const made = await call()
    await router.push(`/jobs/${made.uid}/brief`)
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    tell(said(problem), { bad: true })
  }
}
const create = () =>
  make(() => {
    const body = { title: title.value.trim(), time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone }
    return sendOnce(`job ${body.title}`, (uid) => ask(api.POST('/api/v1/jobs', { body: { ...body, uid } })))
  })

async function readFile(event: Event) {
  const chosen = (event.target as HTMLInputElement).files?.[0]
  if (!chosen) return
  if (chosen.name.endsWith('.zip')) {
    pack.value = chosen
    if (file.value) file.value.value = ''
    return
  }
  reading.value = `${chosen.name}, ${bytes(chosen.size)}`
  const text = await chosen.text()
  share.value = 0
  const fetch = watched((now) => (share.value = now))
  await make(() => sendOnce(text, (uid) => ask(api.POST('/api/v1/import', { body: { text, uid }, fetch }))))
  reading.value = ''
  if (file.value) file.value.value = ''
}

async function archive(uid: string, away: boolean) {
  await ask(
    api.POST('/api/v1/jobs/{job_uid}/archive', {
      params: { path: { job_uid: uid } },
      body: { archived: away },
    }),
  )
  await queries.invalidateQueries({ queryKey: ['jobs'] })
  tell(away ? 'Put away; it is under “put away” and can be brought back.' : 'Brought back.')
}
async function remove(uid: string) {
  removing.value = ''
  try {
    await ask(api.DELETE('/api/v1/jobs/{job_uid}', { params: { path: { job_uid: uid } } }))
    tell('Removed for good.')
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    tell(problem.detail, { bad: true })
  }
  await queries.invalidateQueries({ queryKey: ['jobs'] })
}
async function leave() {
  await signOut()
  await router.push('/enter')
}
</script>

<template>
  <header class="top">
    <span class="mark">Wavilex</span>
    <span class="quiet small">{{ session?.name }} · {{ session?.role }}</span>
    <button @click="toggleTheme">{{ theme === 'dark' ? 'Light' : 'Dark' }}</button>
    <button @click="leave">Sign out</button>
  </header>
  <main class="jobs">
    <h1>Jobs</h1>
    <p>
      A job is one place’s rig: its boxes, leads and settings, what each run should reach, and every visit to
      it.
    </p>
    <div class="row bar">
      <form v-if="mayEdit()" class="row" @submit.prevent="create">
        <label class="sr" for="title">Title of a new job</label>
        <input id="title" v-model="title" placeholder="Title of a new job" required maxlength="120" />
        <button class="go" type="submit">New job</button>
      </form>
      <button v-if="mayEdit()" @click="file?.click()">Read a job file or pack…</button>
      <input
        ref="file"
        class="sr"
        type="file"
        accept=".json,.zip,application/json,application/zip"
        tabindex="-1"
        aria-label="Job file"
        @change="readFile"
      />
      <RouterLink to="/shelf" class="button">Shelf</RouterLink>
      <RouterLink to="/practice" class="button">Practice</RouterLink>
      <RouterLink to="/link" class="button">A link without a job</RouterLink>
      <label class="row"><input v-model="archived" type="checkbox" /> put away</label>
    </div>
    <PackPanel v-if="pack" :file="pack" @done="pack = null" />
    <p v-if="reading" class="row quiet" role="status">
      Bringing in {{ reading }}{{ share < 1 ? '' : ': sent, being read' }}
      <progress :value="share < 1 ? share : undefined" max="1" aria-label="How much was sent" />
    </p>
    <p v-if="error" class="attn" role="alert">{{ error.message }}</p>
    <p v-else-if="isPending && session" class="quiet">Reading the jobs…</p>
    <div v-else-if="data && !data.total" class="empty">
      <b>{{ archived ? 'Nothing is put away.' : 'No job yet.' }}</b>
      Give a new one a title, or read a job file that somebody handed over.
    </div>
    <ul v-else>
      <li v-for="j in data?.jobs" :key="j.uid" class="plate">
        <RouterLink :to="`/jobs/${j.uid}/wiring`" class="name">{{ j.title }}</RouterLink>
        <span class="quiet small"
          >{{ j.boxes }} boxes · changed {{ shortTime(j.changed_at)
          }}{{ j.kept ? ' · kept to some accounts' : '' }}</span
        >
        <RouterLink
          v-if="j.due_in_days !== null && j.due_in_days <= SOON_DAYS"
          :to="`/jobs/${j.uid}/visits`"
          class="small due"
          :class="{ attn: j.due_in_days < 0 }"
          >{{ dueWords(j.due_in_days) }}</RouterLink
        >
        <span class="runs">
          <span v-for="r in j.runs" :key="r.label" class="run"
            ><VerdictIcon :verdict="r.verdict" /> {{ r.label }}</span
          >
          <span v-if="j.broken" class="attn small">cannot be worked out: {{ j.broken }}</span>
          <span v-else-if="!j.runs" class="quiet small">not worked out yet</span>
          <span v-else-if="!j.runs.length" class="quiet small">no run yet</span>
        </span>
        <span v-if="mayEdit()" class="acts">
          <template v-if="removing === j.uid">
            <span class="small">With its history and readings?</span>
            <button class="attn" @click="remove(j.uid)">Remove for good</button>
            <button autofocus @click="removing = ''">Leave it</button>
          </template>
          <template v-else>
            <button class="slight" @click="sharing = { uid: j.uid, title: j.title }">Who sees it…</button>
            <button v-if="j.archived" class="slight" @click="removing = j.uid">Remove…</button>
            <button @click="archive(j.uid, !j.archived)">{{ j.archived ? 'Bring back' : 'Put away' }}</button>
          </template>
        </span>
      </li>
    </ul>
    <nav v-if="data && data.pages > 1" class="row pages" aria-label="Pages of the list">
      <button :disabled="page <= 1" @click="page--">Newer</button>
      <span>page {{ data.page }} of {{ data.pages }}, {{ data.total }} jobs</span>
      <button :disabled="page >= data.pages" @click="page++">Older</button>
    </nav>
    <JobAccess v-if="sharing" v-bind="sharing" @done="sharing = null" />
  </main>
</template>

<style scoped>
.top {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 6px 16px;
  border-bottom: 1px solid var(--rule-strong);
  background: var(--plate);
}
.mark {
  font-weight: 750;
  letter-spacing: 0.02em;
  margin-right: auto;
}
.jobs {
  max-width: 920px;
  margin: 0 auto;
  padding: 28px 20px;
}
.bar {
  margin: 4px 0 18px;
}
.button {
  color: var(--ink);
  text-decoration: none;
  display: inline-flex;
  align-items: center;
}
.bar input[type='checkbox'] {
  min-height: 0;
}
#title {
  width: 260px;
}
ul {
  list-style: none;
  padding: 0;
  display: grid;
  gap: 10px;
}
.pages {
  margin-top: 14px;
}
li {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 12px;
  padding: 12px 16px;
  align-items: center;
}
.name {
  font-size: 17px;
  font-weight: 640;
  color: var(--ink);
}
.runs {
  grid-column: 1;
  display: flex;
  gap: 6px 16px;
  flex-wrap: wrap;
  margin-top: 4px;
}
.run {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  font-size: 13px;
}
.acts {
  display: flex;
  gap: 6px;
  align-items: center;
}
li > .acts {
  grid-column: 2;
  grid-row: 1 / span 3;
}
</style>
