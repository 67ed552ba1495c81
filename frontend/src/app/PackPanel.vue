<script setup lang="ts">
// A job pack that was chosen: what reading it would do is told first, then it is read or left.
import { onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'

import { api, ask, Problem, said, type PackWould } from '../api/client'
import { sendOnce } from '../api/once'
import { bytes } from '../shared/words'

const props = defineProps<{ file: File }>()
const emit = defineEmits<{ done: [] }>()
const router = useRouter()
const told = ref<PackWould | null>(null)
const wrong = ref<string[]>([])
const busy = ref(true)
const RAW = {
  bodySerializer: (body: unknown) => body as Blob,
  headers: { 'Content-Type': 'application/octet-stream' },
}
const body = () => props.file as unknown as string

async function tried(work: () => Promise<void>) {
  busy.value = true
  try {
    await work()
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    wrong.value = said(problem).split('; ')
  }
  busy.value = false
}
onMounted(() =>
  tried(async () => {
    told.value = await ask(api.POST('/api/v1/job-packs/check', { body: body(), ...RAW }))
  }),
)
const read = () =>
  tried(async () => {
    const made = await sendOnce(`pack ${props.file.name} ${props.file.size}`, (uid) =>
      ask(api.POST('/api/v1/job-packs', { body: body(), params: { query: { uid } }, ...RAW })),
    )
    emit('done')
    await router.push(`/jobs/${made.uid}/brief`)
  })
const parts = (t: PackWould) =>
  [
    [t.boxes, 'box', 'boxes'],
    [t.leads, 'lead', 'leads'],
    [t.runs, 'run', 'runs'],
    [t.visits, 'visit', 'visits'],
    [t.states, 'kept state', 'kept states'],
    [t.readings, 'reading', 'readings'],
    [t.seen, 'thing seen', 'things seen'],
    [t.photographs, 'photograph', 'photographs'],
    [t.log, 'line of the logbook', 'lines of the logbook'],
  ]
    .filter(([n]) => n)
    .map(([n, one, more]) => `${n} ${n === 1 ? one : more}`)
    .join(', ')
</script>

<template>
  <section class="pack" aria-label="Job pack" aria-live="polite">
    <h2>{{ file.name }}, {{ bytes(file.size) }}</h2>
    <p v-if="busy && !told && !wrong.length" class="quiet">Checking every file of it…</p>
    <template v-if="wrong.length">
      <p class="attn">It is not read; nothing was stored:</p>
      <ul>
        <li v-for="w in wrong" :key="w">{{ w }}</li>
      </ul>
    </template>
    <template v-else-if="told">
      <p>
        <b>“{{ told.title }}”</b>: {{ parts(told) }}. Every file is what its checksum says.
      </p>
      <p>{{ told.words }}</p>
    </template>
    <p class="row">
      <button v-if="told && !wrong.length" class="go" :disabled="busy" @click="read">Read it in</button>
      <button @click="emit('done')">{{ wrong.length ? 'Close' : 'Leave it' }}</button>
    </p>
  </section>
</template>

<style scoped>
.pack {
  border: 1px solid var(--rule-strong);
  border-left: 4px solid var(--signal);
  background: var(--plate);
  padding: 10px 16px;
  margin: 10px 0;
}
h2 {
  font-size: 15px;
  color: var(--ink);
}
</style>
