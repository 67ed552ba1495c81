<script setup lang="ts">
// A box of the job against the workshop's shelf: not there, as there, older, or changed here; and what was learned.
import Dialog from 'primevue/dialog'
import { computed, ref } from 'vue'

import { api, ask, Problem, type Device, type OnShelf } from '../../api/client'
import { useJobAnswer } from '../../shared/answers'
import { tell } from '../../shared/announce'
import { useJob } from '../../shared/job'
import { mayEdit } from '../../shared/session'
import DiffersTable from './shelf/DiffersTable.vue'

const props = defineProps<{ device: Device }>()
const job = useJob()
const turn = defineModel<number>('turn', { default: 0 }) // one more whenever the shelf was written
const { data, fresh } = useJobAnswer(
  'on-shelf',
  (path) => ask(api.GET('/api/v1/jobs/{job_uid}/shelf', { params: { path } })),
  { also: () => [turn.value] },
)
const mine = computed<OnShelf | undefined>(() => data.value?.find((r) => r.device === props.device.uid))
const open = ref(false)
const taken = ref<string[]>([])
const WORDS = computed(() => {
  const m = mine.value
  if (!m) return ''
  return {
    none: 'not on your shelf',
    same: `on your shelf, version ${m.version}`,
    older: `version ${m.version}; your shelf has ${m.newest}`,
    changed: `otherwise than on your shelf (version ${m.newest})`,
  }[m.state]
})
function look() {
  taken.value = mine.value?.learned.map((x) => x.path) ?? []
  open.value = true
}
async function act(call: () => Promise<string>) {
  try {
    tell(await call())
    turn.value++
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    tell(problem.detail, { bad: true })
  }
}
const keep = () =>
  act(async () => {
    const path = { job_uid: job.view?.uid ?? '', device_uid: props.device.uid }
    const { data: profile } = await ask(
      api.GET('/api/v1/jobs/{job_uid}/devices/{device_uid}/profile', { params: { path } }),
    )
    const body = { data: profile, uid: mine.value?.uid ?? '', note: `from ${job.view?.title ?? 'a job'}` }
    const entry = await ask(api.POST('/api/v1/shelf', { body }))
    return `${entry.name} is on the shelf, version ${entry.version}.`
  })
const learn = () =>
  act(async () => {
    const path = { job_uid: job.view?.uid ?? '', device_uid: props.device.uid }
    const entry = await ask(
      api.POST('/api/v1/jobs/{job_uid}/devices/{device_uid}/shelf', {
        params: { path },
        body: { paths: taken.value },
      }),
    )
    open.value = false
    return `Taken to the shelf: ${entry.name}.`
  })
async function renew() {
  const path = { job_uid: job.view?.uid ?? '', device_uid: props.device.uid, uid: mine.value?.uid ?? '' }
  try {
    const found = await ask(
      api.GET('/api/v1/jobs/{job_uid}/devices/{device_uid}/renew/{uid}', { params: { path } }),
    )
    if (!(await job.change(found.ops, `${props.device.label}: as on the shelf`))) return
    const lost = found.lost.length ? ` Let go: ${found.lost.join('; ')}.` : ''
    tell(`${props.device.label} is as on the shelf now.${lost}`, { undo: true })
    open.value = false
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    tell(problem.detail, { bad: true })
  }
}
</script>

<template>
  <p v-if="mine" class="small quiet row line">
    <span :class="{ tight: mine.state === 'older' }">{{ WORDS }}</span>
    <button v-if="mayEdit() && mine.state === 'none'" class="slight" @click="keep">
      Keep on the shelf<span class="sr">: {{ device.label }}</span>
    </button>
    <button
      v-if="mine.state === 'older' || mine.state === 'changed' || mine.learned.length"
      class="slight"
      @click="look"
    >
      {{ mine.learned.length ? `${mine.learned.length} learned here` : 'What differs'
      }}<span class="sr"> of {{ device.label }}</span>
    </button>
  </p>
  <Dialog
    v-if="open && mine"
    v-model:visible="open"
    modal
    :header="`${device.label} and the shelf`"
    :style="{ width: '720px', maxWidth: '96vw' }"
  >
    <template v-if="mine.state === 'older' || mine.state === 'changed'">
      <p>{{ device.label }} is {{ WORDS }}.</p>
      <DiffersTable :rows="mine.differs" before="here" after="on the shelf" />
      <p v-if="mayEdit()" class="row">
        <button class="go" :disabled="!fresh" @click="renew">Take the shelf’s</button>
        <button v-if="mine.state === 'changed'" @click="keep">Keep this as its next version</button>
      </p>
    </template>
    <template v-if="mine.learned.length">
      <h2>Learned here</h2>
      <p class="small quiet">
        Firmware {{ device.firmware || 'not read' }}. What you take stands with its date and firmware, and
        comes along whenever the box is added to a job.
      </p>
      <ul>
        <li v-for="x in mine.learned" :key="x.path">
          <label class="row"
            ><input v-model="taken" type="checkbox" :value="x.path" />
            <span
              >{{ x.words }}
              <small class="quiet under"
                >{{ x.source }}{{ x.before ? `; the shelf says ${x.before}` : '' }}</small
              ></span
            ></label
          >
        </li>
      </ul>
      <p v-if="mayEdit()" class="row">
        <button class="go" :disabled="!taken.length || !fresh" @click="learn">Take to the shelf</button>
      </p>
    </template>
  </Dialog>
</template>

<style scoped>
.under {
  display: block;
}
.line {
  gap: 6px;
}
.tight {
  border-left: 3px solid var(--tight);
  padding-left: 5px;
}
ul {
  list-style: none;
  padding: 0;
}
li {
  padding: 3px 0;
  border-bottom: 1px solid var(--rule);
}
h2 {
  margin-top: 12px;
}
</style>
