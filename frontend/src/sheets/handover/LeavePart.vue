<script setup lang="ts">
// What is left behind besides the page: labels, and links by which the client reads it.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { api, ask, Problem, type ClientLink } from '../../api/client'
import { tell } from '../../shared/announce'
import { useJob } from '../../shared/job'
import { mayEdit } from '../../shared/session'
import { shortTime } from '../../shared/words'

const job = useJob()
const client = useQueryClient()
const uid = computed(() => job.view?.uid ?? '')
const SHEETS = [
  { id: '24', name: '24 to a sheet, 70 × 37 mm' },
  { id: '21', name: '21 to a sheet, 63.5 × 38.1 mm' },
  { id: '65', name: '65 to a sheet, 38.1 × 21.2 mm' },
  { id: '189', name: '189 to a sheet, 25.4 × 10 mm' },
]
const sheet = ref('24')
const first = ref(1)
const kind = ref('all')
const code = ref(false)
const labels = computed(
  () =>
    `/api/v1/jobs/${uid.value}/labels.pdf?sheet=${sheet.value}&first=${first.value || 1}&kind=${kind.value}&code=${code.value}`,
)
const note = ref('')
const days = ref(90)
const address = ref('')
const { data: links } = useQuery({
  queryKey: computed(() => ['client-links', uid.value]),
  queryFn: () =>
    ask(api.GET('/api/v1/jobs/{job_uid}/client-links', { params: { path: { job_uid: uid.value } } })),
  enabled: computed(() => !!uid.value),
})
const took = (told: ClientLink[]) => client.setQueryData(['client-links', uid.value], told)
async function tried(work: () => Promise<void>) {
  try {
    await work()
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    tell(problem.detail, { bad: true })
  }
}
const make = () =>
  tried(async () => {
    const body = { note: note.value.trim(), days: days.value }
    const told = await ask(
      api.POST('/api/v1/jobs/{job_uid}/client-links', { params: { path: { job_uid: uid.value } }, body }),
    )
    took(told.links)
    address.value = told.address
    note.value = ''
  })
const revoke = (link: string) =>
  tried(async () => {
    const path = { job_uid: uid.value, link_uid: link }
    took(await ask(api.POST('/api/v1/jobs/{job_uid}/client-links/{link_uid}/revoke', { params: { path } })))
    address.value = ''
    tell('The link opens nothing any more.')
  })
async function copy() {
  await navigator.clipboard.writeText(address.value)
  tell('The address is copied.')
}
const time = (iso: string) => shortTime(iso, job.view?.time_zone)
const state = (x: ClientLink) =>
  x.revoked_at ? `revoked ${time(x.revoked_at)}` : x.open ? `opens until ${time(x.expires_at)}` : 'expired'
</script>

<template>
  <details class="leave">
    <summary>Labels, and a link for the client</summary>
    <section aria-label="Labels">
      <h2>Labels for leads and boxes</h2>
      <p class="row">
        <label for="label-sheet">Sheet</label>
        <select id="label-sheet" v-model="sheet">
          <option v-for="s in SHEETS" :key="s.id" :value="s.id">{{ s.name }}</option>
        </select>
        <label for="label-kind">of</label>
        <select id="label-kind" v-model="kind">
          <option value="all">leads and boxes</option>
          <option value="lead">leads, both ends</option>
          <option value="box">boxes</option>
        </select>
        <label for="label-first">from place</label>
        <input id="label-first" v-model.number="first" type="number" min="1" max="189" class="short" />
        <label class="tick"><input v-model="code" type="checkbox" /> with a QR code to this job</label>
        <a class="button" :href="labels" target="_blank" rel="noopener">Labels as PDF</a>
        <a class="button slight" :href="`/api/v1/jobs/${uid}/labels.txt`" target="_blank" rel="noopener"
          >As lines of text</a
        >
      </p>
      <p class="quiet small">Their codes stand in the schedule and in the wiring below.</p>
    </section>
    <section aria-label="Link for the client">
      <h2>A link for the client</h2>
      <form v-if="mayEdit()" class="row" @submit.prevent="make">
        <label for="link-note">For</label>
        <input id="link-note" v-model="note" maxlength="120" placeholder="whom" />
        <label for="link-days">opens for</label>
        <select id="link-days" v-model.number="days">
          <option :value="7">a week</option>
          <option :value="90">90 days</option>
          <option :value="365">a year</option>
        </select>
        <button type="submit">Make a link</button>
      </form>
      <p v-if="address" class="made row">
        <input
          :value="address"
          readonly
          aria-label="Address of the link"
          @focus="($event.target as HTMLInputElement).select()"
        />
        <button class="go" @click="copy">Copy</button>
        <span class="quiet small">Told this once. Who has it reads the hand-over, and nothing else.</span>
      </p>
      <ul v-if="links?.length" aria-label="Links given">
        <li v-for="x in links" :key="x.uid" class="row">
          <span>{{ x.note || 'without a name' }}, {{ state(x) }}</span>
          <span class="quiet small">{{ x.read_at ? `last read ${time(x.read_at)}` : 'not read yet' }}</span>
          <button v-if="x.open && mayEdit()" class="slight" @click="revoke(x.uid)">Revoke</button>
        </li>
      </ul>
    </section>
  </details>
</template>

<style scoped>
.leave {
  max-width: 980px;
  margin-bottom: 12px;
}
section {
  margin: 8px 0;
}
h2 {
  font-size: 15px;
}
.short {
  width: 70px;
}
.made input {
  flex: 1 1 320px;
  font-family: var(--mono);
}
.tick {
  display: inline-flex;
  gap: 5px;
  align-items: center;
}
ul {
  list-style: none;
  padding: 0;
}
@media print {
  .leave {
    display: none;
  }
}
</style>
