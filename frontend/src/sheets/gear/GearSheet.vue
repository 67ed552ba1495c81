<script setup lang="ts">
// The boxes of the job: what each is, how it is set now and in the plan.
import { computed, ref } from 'vue'

import { api, ask, newUid, Problem, type Device, type Profile } from '../../api/client'
import { tell } from '../../shared/announce'
import { useKeys } from '../../shared/keys'
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'
import DeviceCard from './DeviceCard.vue'
import ProfileEditor from './editor/ProfileEditor.vue'
import LibraryDialog from './LibraryDialog.vue'

const job = useJob()
const open = ref(false)
const rooms = computed(() => {
  const names = [...new Set(job.shown?.devices.map((d) => d.room))]
  return names.map((room) => ({ room, devices: job.shown?.devices.filter((d) => d.room === room) ?? [] }))
})

async function add(profile: Profile, room: string) {
  const same =
    job.shown?.devices.filter((d) => d.name === profile.name || d.label.startsWith(`${profile.name} `))
      .length ?? 0
  const label = same ? `${profile.name} ${same + 1}` : profile.name
  const device = { uid: newUid().slice(0, 12), label, room, profile: profile.data }
  if (await job.change([{ op: 'add_device', device }], `${label} added`))
    tell(`${label} added.`, { undo: true })
}
const replaces = ref<Device | null>(null)
function replace(device: Device) {
  replaces.value = device
  open.value = true
}
async function exchange(profile: Profile) {
  const old = replaces.value
  if (!old) return
  const path = { job_uid: job.view?.uid ?? '', device_uid: old.uid }
  const body = { profile: profile.data }
  try {
    const found = await ask(
      api.POST('/api/v1/jobs/{job_uid}/devices/{device_uid}/exchange', { params: { path }, body }),
    )
    if (!(await job.change(found.ops, `${profile.name} in the place of ${old.label}`))) return
    const loose = found.loose.length ? ` Without a socket now: ${found.loose.join(', ')}.` : ''
    tell(`${profile.name} stands in the place of ${old.label}; wants, titles and style stay.${loose}`, {
      undo: true,
    })
    open.value = false
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    tell(problem.detail)
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
async function addOwn(profile: Profile) {
  await add(profile, ownRoom.value)
  writing.value = false
}
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
  <div v-if="!job.shown?.devices.length" class="empty">
    <b>No box yet.</b>
    Add a source, a screen and whatever stands between them. The library has made-up devices of every kind;
    your own come in as a profile file.
  </div>
  <section v-for="r in rooms" :key="r.room">
    <h2>{{ r.room || 'no room yet' }}</h2>
    <div class="cards">
      <DeviceCard
        v-for="d in r.devices"
        :key="d.uid"
        :device="d"
        @replace="replace(d)"
        @remove="remove(d.uid, d.label)"
        @another="add($event, d.room)"
      />
    </div>
  </section>
  <LibraryDialog
    v-model:visible="open"
    :rooms="job.shown?.rooms ?? []"
    :replaces="replaces"
    @add="(p, room) => (replaces ? exchange(p) : add(p, room))"
    @own="own"
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
@media (max-width: 640px) {
  .cards {
    grid-template-columns: 1fr;
  }
}
</style>
