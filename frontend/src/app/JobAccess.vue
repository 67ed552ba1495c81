<script setup lang="ts">
// Who sees a job: every account, or those named.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Dialog from 'primevue/dialog'
import { ref, watch } from 'vue'

import { api, ask, Problem } from '../api/client'
import { tell } from '../shared/announce'
import { session } from '../shared/session'

const { uid, title } = defineProps<{ uid: string; title: string }>()
const emit = defineEmits<{ done: [] }>()
const queries = useQueryClient()
const path = { job_uid: uid }
const { data } = useQuery({
  queryKey: ['access', uid],
  queryFn: () => ask(api.GET('/api/v1/jobs/{job_uid}/access', { params: { path } })),
  staleTime: 0,
  gcTime: 0,
})
const kept = ref(false)
const names = ref<string[]>([])
watch(data, (now) => {
  if (!now) return
  kept.value = now.kept
  names.value = now.accounts.filter((a) => now.kept && a.sees).map((a) => a.name)
})

async function save() {
  try {
    await ask(
      api.POST('/api/v1/jobs/{job_uid}/access', {
        params: { path },
        body: { kept: kept.value, names: kept.value ? names.value : [] },
      }),
    )
    tell(kept.value ? 'Kept to the accounts named.' : 'Every account sees it.')
    await queries.invalidateQueries({ queryKey: ['jobs'] })
    emit('done')
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    tell(problem.detail, { bad: true })
  }
}
</script>

<template>
  <Dialog
    visible
    modal
    :header="`Who sees “${title}”`"
    :style="{ width: '440px' }"
    @update:visible="emit('done')"
  >
    <form v-if="data" @submit.prevent="save">
      <label class="way"
        ><input v-model="kept" type="radio" :value="false" /> every account, later ones too</label
      >
      <label class="way"><input v-model="kept" type="radio" :value="true" /> only these:</label>
      <ul>
        <li v-for="a in data.accounts" :key="a.name">
          <label>
            <input v-if="a.name === session?.name" type="checkbox" checked disabled /><input
              v-else
              v-model="names"
              type="checkbox"
              :value="a.name"
              :disabled="!kept"
            />
            {{ a.name }}
            <span class="quiet small">({{ a.name === session?.name ? 'you' : a.role }})</span>
          </label>
        </li>
      </ul>
      <p class="quiet small">
        Technicians change what they see, viewers read it. Whoever runs the installation can let others in
        with
        <code>wavilex user NAME --sees {{ uid }}</code
        >.
      </p>
      <p class="row end">
        <button type="button" @click="emit('done')">Cancel</button>
        <button class="go" type="submit">Save</button>
      </p>
    </form>
    <p v-else class="quiet">Reading…</p>
  </Dialog>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 2px 0 10px;
  padding-left: 24px;
}
input {
  min-height: 0;
}
label {
  display: inline-flex;
  align-items: center;
  gap: 8px;
}
.way {
  display: flex;
  margin: 4px 0;
}
.end {
  margin-top: 14px;
  justify-content: flex-end;
}
</style>
