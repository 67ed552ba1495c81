<script setup lang="ts">
// The boxes of the job: what each is, how it is set now and in the plan.
import { computed, onMounted, ref } from 'vue'
import { useRoute } from 'vue-router'

import {
  api,
  ask,
  newUid,
  Problem,
  type Device,
  type Op,
  type Profile,
  type ShelfEntry,
} from '../../api/client'
import { tell } from '../../shared/announce'
import { useKeys } from '../../shared/keys'
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'
import DeviceCard from './DeviceCard.vue'
import ProfileEditor from './editor/ProfileEditor.vue'
import AddDialog from './add/AddDialog.vue'
import { begun } from './add/draft'

const job = useJob()
const open = ref(false)
const MANY = 12 // with more boxes each is a line until it is opened
const opened = ref<string[]>([])
const filter = ref('')
const folds = computed(() => (job.shown?.devices.length ?? 0) > MANY)
const found = computed(() => {
  const words = filter.value.toLowerCase().split(/\s+/).filter(Boolean)
  const text = (d: Device) => `${d.label} ${d.name} ${d.kind} ${d.role} ${d.room} ${d.summary}`.toLowerCase()
  return job.shown?.devices.filter((d) => words.every((w) => text(d).includes(w))) ?? []
})
const rooms = computed(() => {
  const names = [...new Set(found.value.map((d) => d.room))]
  return names.map((room) => ({ room, devices: found.value.filter((d) => d.room === room) }))
})
const folded = (uid: string) => folds.value && !opened.value.includes(uid)
const fold = (uid: string) =>
  (opened.value = folded(uid) ? [...opened.value, uid] : opened.value.filter((o) => o !== uid))

const turn = ref(0) // one more whenever the shelf was written
const added = ref('')
async function add(profile: Profile | ShelfEntry, room: string): Promise<boolean> {
  const same =
    job.shown?.devices.filter((d) => d.name === profile.name || d.label.startsWith(`${profile.name} `))
      .length ?? 0
  const label = same ? `${profile.name} ${same + 1}` : profile.name
  const device = { uid: newUid().slice(0, 12), label, room, profile: profile.data }
  const facts = 'facts' in profile ? profile.facts : [] // what was learned of it before comes along
  const ops: Op[] = [
    { op: 'add_device', device },
    ...facts.map<Op>((f) => ({
      op: 'set_fact',
      device: device.uid,
      path: f.path,
      value: f.value,
      provenance: f.provenance,
    })),
  ]
  if (!(await job.change(ops, `${label} added`))) return false
  added.value = label
  return true
}
const replaces = ref<Device | null>(null)
function replace(device: Device) {
  replaces.value = device
  open.value = true
}
async function addAll(ops: Op[], title: string): Promise<boolean> {
  if (!(await job.change(ops, `set-up added: ${title}`))) return false
  tell(`${title}: its boxes, leads and run are in the job. What to set stands under Settings.`, {
    undo: true,
  })
  return true
}
async function exchange(profile: Profile | ShelfEntry): Promise<boolean> {
  const old = replaces.value
  if (!old) return false
  const path = { job_uid: job.view?.uid ?? '', device_uid: old.uid }
  const body = { profile: profile.data }
  try {
    const found = await ask(
      api.POST('/api/v1/jobs/{job_uid}/devices/{device_uid}/exchange', { params: { path }, body }),
    )
    if (!(await job.change(found.ops, `${profile.name} in the place of ${old.label}`))) return false
    const loose = found.loose.length ? ` Without a socket now: ${found.loose.join(', ')}.` : ''
    tell(`${profile.name} stands in the place of ${old.label}; wants, titles and style stay.${loose}`, {
      undo: true,
    })
    open.value = false
    return true
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    tell(problem.detail)
    return false
  }
}
async function remove(uid: string, label: string) {
  if (await job.change([{ op: 'remove_device', device: uid }], `${label} taken out`))
    tell(`${label} taken out, with its plugs, settings and runs.`, { undo: true })
}
function start() {
  replaces.value = null
  open.value = true
}
const writing = ref(false)
const ownRoom = ref('')
function own(room: string) {
  ownRoom.value = room
  open.value = false
  writing.value = true
}
async function addTold(profile: Profile, room: string): Promise<boolean> {
  const done = await add(profile, room)
  if (done) tell(`${added.value} added.`, { undo: true })
  return done
}
async function addOwn(profile: Profile) {
  if (await addTold(profile, ownRoom.value)) writing.value = false
}
const route = useRoute()
onMounted(() => {
  if (route.query.add !== 'setup' || !mayEdit()) return
  begun.way = 'setup'
  start()
})
useKeys([{ key: '+', does: 'Add a box', run: () => mayEdit() && start() }])
</script>

<template>
  <div class="head">
    <div>
      <h1>Gear</h1>
      <p>What each box is and how it is set. Settings belong to the socket, not to the box plugged in.</p>
    </div>
    <button v-if="mayEdit()" class="go" @click="start">Add a box <kbd>+</kbd></button>
  </div>
  <div v-if="folds" class="row tools">
    <label class="sr" for="gear-filter">Find a box of this job</label>
    <input id="gear-filter" v-model="filter" maxlength="60" placeholder="find a box: label, room, kind…" />
    <button class="slight" @click="opened = found.map((d) => d.uid)">Open all</button>
    <button class="slight" :disabled="!opened.length" @click="opened = []">Fold all</button>
    <span v-if="filter" class="small quiet">{{ found.length }} of {{ job.shown?.devices.length }}</span>
  </div>
  <div v-if="!job.shown?.devices.length" class="empty">
    <b>No box yet.</b>
    <RouterLink v-if="mayEdit()" :to="{ query: { add: 'setup' } }" @click="((begun.way = 'setup'), start())"
      >Start from a typical set-up</RouterLink
    >, or add a source, a screen and whatever stands between them: from your shelf, by class with a few
    answers, from an EDID, or written by hand.
  </div>
  <section v-for="r in rooms" :key="r.room">
    <h2>{{ r.room || 'no room yet' }}</h2>
    <div class="cards" :class="{ lines: folds }">
      <DeviceCard
        v-for="d in r.devices"
        :key="d.uid"
        v-model:turn="turn"
        :device="d"
        :folds="folds"
        :folded="folded(d.uid)"
        @fold="fold(d.uid)"
        @replace="replace(d)"
        @remove="remove(d.uid, d.label)"
        @another="addTold($event, d.room)"
      />
    </div>
  </section>
  <AddDialog
    v-model:visible="open"
    :rooms="job.shown?.rooms ?? []"
    :replaces="replaces"
    :added="added"
    :add-all="addAll"
    :add="(p, room) => (replaces ? exchange(p) : add(p, room))"
    @own="own"
    @undone="added = ''"
  />
  <ProfileEditor v-if="writing" v-model:visible="writing" :start="null" box="" @add="addOwn" />
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  align-items: start;
}
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(340px, 1fr));
  gap: 10px;
  margin: 6px 0 16px;
  align-items: start;
}
.tools {
  margin: 6px 0 8px;
}
.tools input {
  flex: 0 1 280px;
}
.lines {
  grid-template-columns: minmax(0, 1fr);
  max-width: 720px;
  gap: 3px;
}
@media (max-width: 640px) {
  .cards {
    grid-template-columns: 1fr;
  }
}
</style>
