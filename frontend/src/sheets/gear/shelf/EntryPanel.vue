<script setup lang="ts">
// One box of the shelf: what it can do, what was learned of it, its versions, where it is used; edited in place.
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'

import { api, ask, Problem, type Profile } from '../../../api/client'
import { tell } from '../../../shared/announce'
import { mayEdit } from '../../../shared/session'
import { shortTime } from '../../../shared/words'
import ProfileEditor from '../editor/ProfileEditor.vue'
import DiffersTable from './DiffersTable.vue'

const props = defineProps<{ uid: string }>()
const emit = defineEmits<{ changed: [] }>()
const editing = ref(false)
const { data: entry, error } = useQuery({
  queryKey: ['shelf-entry', () => props.uid],
  queryFn: () => ask(api.GET('/api/v1/shelf/{uid}', { params: { path: { uid: props.uid } } })),
  staleTime: 0,
})
async function act(call: () => Promise<string>): Promise<boolean> {
  try {
    tell(await call())
    emit('changed')
    return true
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    tell(problem.detail, { bad: true })
    return false
  }
}
async function keep(profile: Profile) {
  const done = await act(async () => {
    const now = await ask(
      api.POST('/api/v1/shelf', { body: { data: profile.data, uid: props.uid, note: '' } }),
    )
    return `${now.name}: version ${now.version}.`
  })
  if (done) editing.value = false
}
const putAway = (away: boolean) =>
  act(async () => {
    await ask(api.POST('/api/v1/shelf/{uid}/away', { params: { path: { uid: props.uid } }, body: { away } }))
    return away ? 'Put away; it is under “put away” and can be brought back.' : 'Brought back.'
  })
const forget = (path: string) =>
  act(async () => {
    await ask(
      api.POST('/api/v1/shelf/{uid}/forget', { params: { path: { uid: props.uid } }, body: { path } }),
    )
    return 'Forgotten.'
  })
const said = (value: unknown) => (Array.isArray(value) ? value.join(', ') : String(value))
</script>

<template>
  <p v-if="error" class="attn" role="alert">{{ error.message }}</p>
  <article v-else-if="entry" class="plate" :aria-label="entry.name">
    <header class="row">
      <h2>{{ entry.name }}</h2>
      <span class="quiet">{{ entry.kind }}, version {{ entry.version }}</span>
      <span v-if="mayEdit()" class="row acts">
        <button @click="editing = true">Edit</button>
        <a class="button" :href="`/api/v1/shelf/pack.zip?uids=${uid}`" download>As a pack</a>
        <button @click="putAway(!entry.away)">{{ entry.away ? 'Bring back' : 'Put away' }}</button>
      </span>
    </header>
    <p v-if="entry.summary">{{ entry.summary }}</p>
    <p class="small quiet">{{ entry.can.join(' · ') }}</p>
    <template v-if="entry.facts.length">
      <h3>Learned on site</h3>
      <table class="plain">
        <thead>
          <tr>
            <th>what</th>
            <th>it is</th>
            <th>when, on which firmware</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="f in entry.facts" :key="f.path">
            <td>{{ f.path.replaceAll('.', ' · ').replaceAll('_', ' ') }}</td>
            <td>{{ said(f.value) }}</td>
            <td>
              {{
                [f.at, f.firmware ? `firmware ${f.firmware}` : 'firmware not read'].filter(Boolean).join(', ')
              }}
            </td>
            <td>
              <button v-if="mayEdit()" class="slight" @click="forget(f.path)">
                Forget<span class="sr"> {{ f.path }}</span>
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
    <h3>Used in</h3>
    <p v-if="!entry.used_in.length" class="quiet small">No job that you see has it.</p>
    <ul v-else>
      <li v-for="u in entry.used_in" :key="u.job + u.device">
        <RouterLink :to="`/jobs/${u.job}/gear`">{{ u.title }}</RouterLink>: {{ u.label }},
        <span :class="{ attn: u.version && u.version < entry.version }">{{
          u.version ? `version ${u.version}` : 'changed there'
        }}</span>
      </li>
    </ul>
    <h3>Versions</h3>
    <details v-for="(v, n) in entry.versions" :key="v.number" :open="n === 0 && v.differs.length > 0">
      <summary>
        {{ v.number }}, {{ shortTime(v.at) }}{{ v.by ? `, ${v.by}` : '' }}{{ v.note ? `: ${v.note}` : '' }}
      </summary>
      <DiffersTable
        v-if="v.number > 1"
        :rows="v.differs"
        :before="`version ${v.number - 1}`"
        :after="`version ${v.number}`"
      />
      <p v-else class="quiet small">The first.</p>
    </details>
    <ProfileEditor
      v-if="editing"
      v-model:visible="editing"
      :start="entry.data"
      :box="entry.name"
      verb="Keep as the next version"
      @keep="keep"
    />
  </article>
</template>

<style scoped>
article {
  padding: 10px 14px 14px;
  display: grid;
  gap: 6px;
}
h3 {
  font-size: 14px;
  margin-top: 8px;
}
.acts {
  margin-left: auto;
}
ul {
  padding-left: 18px;
}
summary {
  cursor: pointer;
}
</style>
