<script setup lang="ts">
// The workshop's shelf: boxes across jobs, searched by what they can do; versions, what was learned, where they are.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'

import { api, ask, Problem, type Profile, type ShelfRow } from '../../../api/client'
import { tell } from '../../../shared/announce'
import PickRow from '../../../shared/PickRow.vue'
import { mayEdit, whoAmI } from '../../../shared/session'
import { ROLES } from '../add/draft'
import ProfileEditor from '../editor/ProfileEditor.vue'
import EntryPanel from './EntryPanel.vue'

const router = useRouter()
const queries = useQueryClient()
onMounted(async () => {
  document.title = 'Shelf · Wavilex'
  if (!(await whoAmI())) await router.replace('/enter')
})
const search = ref('')
const role = ref<ShelfRow['role']>('')
const away = ref(false)
const picked = ref('')
const file = ref<HTMLInputElement | null>(null)
const writing = ref(false)
const { data, error } = useQuery({
  queryKey: ['shelf-page', search, role, away],
  queryFn: () =>
    ask(
      api.GET('/api/v1/shelf', {
        params: {
          query: { search: search.value.trim(), role: role.value as '', away: away.value, starters: false },
        },
      }),
    ),
  placeholderData: (old) => old,
  staleTime: 0,
})
const uid = computed(() =>
  data.value?.some((b) => b.uid === picked.value) ? picked.value : (data.value?.[0]?.uid ?? ''),
)
const again = () =>
  Promise.all([
    queries.invalidateQueries({ queryKey: ['shelf-page'] }),
    queries.invalidateQueries({ queryKey: ['shelf-entry'] }),
    queries.invalidateQueries({ queryKey: ['shelf'] }),
  ])
async function tried(call: () => Promise<string>) {
  try {
    tell(await call())
    await again()
    return true
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    tell([problem.where, problem.detail].filter(Boolean).join(': '), { bad: true })
    return false
  }
}
async function keep(profile: Profile) {
  const done = await tried(async () => {
    const entry = await ask(api.POST('/api/v1/shelf', { body: { data: profile.data, uid: '', note: '' } }))
    picked.value = entry.uid
    return `${entry.name} is on the shelf, version ${entry.version}.`
  })
  if (done) writing.value = false
}
function base64(bytes: Uint8Array): string {
  let text = ''
  for (const b of bytes) text += String.fromCharCode(b)
  return btoa(text)
}
async function readPack(event: Event) {
  const chosen = (event.target as HTMLInputElement).files?.[0]
  if (!chosen) return
  const zip = base64(new Uint8Array(await chosen.arrayBuffer()))
  await tried(async () => {
    const told = await ask(api.POST('/api/v1/shelf/pack', { body: { zip } }))
    const parts = [
      told.added.length ? `new: ${told.added.join(', ')}` : '',
      told.renewed.length ? `a newer version: ${told.renewed.join(', ')}` : '',
      told.alike.length ? `${told.alike.length} there already` : '',
    ].filter(Boolean)
    return `${chosen.name}: ${parts.join('; ') || 'it holds no box'}.`
  })
  if (file.value) file.value.value = ''
}
</script>

<template>
  <header class="top">
    <RouterLink to="/" class="mark">Wavilex</RouterLink>
    <RouterLink to="/" class="button">Jobs</RouterLink>
  </header>
  <main class="shelf">
    <h1>Shelf</h1>
    <p class="quiet">Boxes of your own across jobs. A job keeps the version it was planned with.</p>
    <div class="row bar">
      <label class="sr" for="shelf-search">Search the shelf</label>
      <input
        id="shelf-search"
        v-model="search"
        maxlength="100"
        placeholder="maker, model, or what it can do: 4K120, eARC, 15 kHz…"
      />
      <PickRow label="Which kind" :list="ROLES" :on="[role]" @pick="role = $event" />
      <label class="row"><input v-model="away" type="checkbox" /> put away</label>
      <span class="acts row">
        <button v-if="mayEdit()" @click="writing = true">Write a box</button>
        <button v-if="mayEdit()" @click="file?.click()">Read a pack…</button>
        <a v-if="data?.length" class="button" href="/api/v1/shelf/pack.zip" download>All as a pack</a>
      </span>
      <input
        ref="file"
        class="sr"
        type="file"
        accept=".zip,application/zip"
        tabindex="-1"
        aria-label="Pack of gear"
        @change="readPack"
      />
    </div>
    <p v-if="error" class="attn" role="alert">{{ error.message }}</p>
    <p v-else-if="!data" class="quiet" role="status">Reading the shelf…</p>
    <div v-else-if="!data.length" class="empty">
      <b>{{
        search ? `Nothing is found by “${search}”.` : away ? 'Nothing is put away.' : 'The shelf is empty.'
      }}</b>
      Keep a box of a job here from its card on Gear, write one, or read a pack that another workshop handed
      on.
    </div>
    <div v-else class="two">
      <ul aria-label="Boxes">
        <li v-for="b in data" :key="b.uid">
          <button
            class="pick"
            :class="{ on: b.uid === uid }"
            :aria-pressed="b.uid === uid"
            @click="picked = b.uid"
          >
            <b>{{ b.name }}</b> <span class="quiet">{{ b.kind }}, version {{ b.version }}</span>
            <small class="quiet">{{ b.can.slice(0, 5).join(' · ') }}</small>
            <small class="quiet">{{
              b.used ? `in ${b.used} ${b.used === 1 ? 'place' : 'places'}` : 'not in use'
            }}</small>
          </button>
        </li>
      </ul>
      <EntryPanel v-if="uid" :key="uid" :uid="uid" @changed="again" />
    </div>
    <ProfileEditor
      v-if="writing"
      v-model:visible="writing"
      :start="null"
      box=""
      verb="Keep on the shelf"
      @add="keep"
    />
  </main>
</template>

<style scoped>
.top {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 8px 16px;
  border-bottom: 1px solid var(--rule);
  background: var(--plate);
}
.mark {
  font-weight: 700;
  color: var(--ink);
  text-decoration: none;
}
.shelf {
  max-width: 1160px;
  margin: 0 auto;
  padding: 16px;
}
.bar {
  margin: 10px 0;
}
.bar > input:not(.sr) {
  flex: 1 1 240px;
  max-width: 420px;
}
.acts {
  margin-left: auto;
}
.two {
  display: grid;
  grid-template-columns: minmax(260px, 360px) 1fr;
  gap: 16px;
  align-items: start;
}
ul {
  list-style: none;
  padding: 0;
  display: grid;
  gap: 4px;
}
.pick {
  width: 100%;
  text-align: left;
  white-space: normal;
  font-weight: 400;
  border-color: var(--rule);
}
.pick.on {
  border-color: var(--signal);
  box-shadow: inset 3px 0 0 var(--signal);
}
.pick small {
  display: block;
}
@media (max-width: 760px) {
  .two {
    grid-template-columns: 1fr;
  }
  .acts {
    margin-left: 0;
  }
}
</style>
