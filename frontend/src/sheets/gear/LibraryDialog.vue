<script setup lang="ts">
// Choose from the starter library, or read a profile file.
import { useQuery } from '@tanstack/vue-query'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'

import { api, ask, Problem, type Profile } from '../../api/client'

defineProps<{ rooms: string[] }>()
const emit = defineEmits<{ add: [profile: Profile, room: string] }>()
const visible = defineModel<boolean>('visible', { required: true })
const search = ref('')
const room = ref('')
const text = ref('')
const fault = ref('')
const read = ref<Profile | null>(null)

const { data, error } = useQuery({
  queryKey: ['library'],
  queryFn: () => ask(api.GET('/api/v1/library')),
  enabled: visible,
})
const ROLES = { source: 'Sources', repeater: 'In between', screen: 'Screens' } as const
const groups = computed(() => {
  const words = search.value.toLowerCase().split(/\s+/).filter(Boolean)
  const hit = (p: Profile) => words.every((w) => `${p.name} ${p.kind} ${p.summary}`.toLowerCase().includes(w))
  return Object.entries(ROLES).map(([role, name]) => ({
    name,
    list: data.value?.filter((p) => p.role === role && hit(p)) ?? [],
  }))
})

async function check() {
  fault.value = ''
  read.value = null
  try {
    read.value = await ask(api.POST('/api/v1/library/read', { body: { text: text.value } }))
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    const line = problem.more.line
    fault.value = [line ? `Line ${String(line)}` : '', problem.where, problem.detail]
      .filter(Boolean)
      .join(': ')
  }
}
async function readFile(event: Event) {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  text.value = await file.text()
  await check()
}
</script>

<template>
  <Dialog
    v-model:visible="visible"
    modal
    dismissable-mask
    header="Add a box"
    :style="{ width: '720px', maxWidth: '96vw' }"
  >
    <div class="row">
      <label for="library-search">Search</label>
      <InputText id="library-search" v-model="search" autofocus placeholder="console, 120 Hz, receiver…" />
      <label for="library-room">Room</label>
      <InputText id="library-room" v-model="room" list="rooms" />
      <datalist id="rooms"><option v-for="r in rooms" :key="r" :value="r" /></datalist>
    </div>
    <p v-if="error" class="attn">{{ error.message }}</p>
    <template v-for="g in groups" :key="g.name">
      <h2 v-if="g.list.length">{{ g.name }}</h2>
      <ul>
        <li v-for="p in g.list" :key="p.id">
          <button class="add" @click="emit('add', p, room)">Add</button>
          <b>{{ p.name }}</b> <span class="quiet">{{ p.summary }}</span>
        </li>
      </ul>
    </template>
    <details>
      <summary>A box that is not listed: read its profile</summary>
      <p class="quiet small">A profile is a YAML file; the guide is docs/formats/gear-profile.md.</p>
      <input type="file" accept=".yaml,.yml,text/yaml" aria-label="Profile file" @change="readFile" />
      <textarea
        v-model="text"
        rows="7"
        class="fig"
        aria-label="Profile text"
        placeholder="wavilex_profile: 1"
        spellcheck="false"
      ></textarea>
      <p class="row">
        <button @click="check">Check</button>
        <span v-if="fault" class="attn" role="alert">{{ fault }}</span>
        <template v-if="read"
          ><span>{{ read.name }}: {{ read.inputs }} in, {{ read.outputs }} out. It is sound.</span
          ><button class="go" @click="emit('add', read, room)">Add</button></template
        >
      </p>
    </details>
  </Dialog>
</template>

<style scoped>
h2 {
  margin: 12px 0 2px;
}
ul {
  list-style: none;
  padding: 0;
}
li {
  padding: 3px 0;
}
.add {
  min-height: 28px;
  padding: 2px 12px;
  margin-right: 8px;
}
details {
  margin-top: 16px;
  border-top: 1px solid var(--rule);
  padding-top: 10px;
}
summary {
  cursor: pointer;
  font-weight: 600;
}
textarea {
  margin: 8px 0;
  font-size: 13px;
}
</style>
