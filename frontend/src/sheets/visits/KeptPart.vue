<script setup lang="ts">
// What the client set by their own hand, and why: noted as found, planned so, and no advice turns it.
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { api, ask, newUid, Problem } from '../../api/client'
import { tell } from '../../shared/announce'
import { useJobAnswer } from '../../shared/answers'
import { useJob } from '../../shared/job'
import { mayEdit } from '../../shared/session'

const job = useJob()
const client = useQueryClient()
const { data, error } = useJobAnswer(
  'updates',
  (path) => ask(api.GET('/api/v1/jobs/{job_uid}/updates', { params: { path } })),
  { mounted: 'always' },
)
const { data: grid } = useJobAnswer('values', (path) =>
  ask(api.GET('/api/v1/jobs/{job_uid}/values', { params: { path } })),
)
const device = ref('')
const key = ref('')
const scope = ref('')
const value = ref('')
const because = ref('')
const by = ref('')
const box = computed(() => grid.value?.find((b) => b.device === device.value))
const row = computed(() => box.value?.rows.find((r) => r.key === key.value))
const cells = computed(() => {
  const seen = new Map<string, string>()
  row.value?.cells.forEach((c, n) => {
    if (c && !seen.has(c.scope)) seen.set(c.scope, box.value?.columns[n]?.words ?? '')
  })
  return [...seen].map(([id, words]) => ({ id, words }))
})
const place = computed(() => (cells.value.length === 1 ? cells.value[0]!.id : scope.value))
const placed = computed(() => cells.value.some((c) => c.id === place.value))
const ready = computed(() => placed.value && value.value.trim() !== '' && because.value.trim() !== '')

async function send(at: string, scopeAt: string, setting: string, now: string, why: string) {
  const path = { job_uid: job.view?.uid ?? '', device_uid: at }
  const body = {
    uid: newUid(), scope: scopeAt, setting, value: now, because: why, by: by.value.trim(),
    said_at: new Date().toISOString(),
  } // prettier-ignore
  try {
    await ask(api.POST('/api/v1/jobs/{job_uid}/devices/{device_uid}/kept', { params: { path }, body }))
    tell(why ? 'Noted: nothing here turns it.' : 'It is free again.')
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    tell(problem.detail, { bad: true })
    return false
  }
  await job.refresh()
  await client.invalidateQueries({ queryKey: ['updates'] })
  return true
}
async function keep() {
  if (await send(device.value, place.value, key.value, value.value.trim(), because.value.trim()))
    key.value = scope.value = value.value = because.value = ''
}
</script>

<template>
  <p v-if="error" class="attn" role="alert">{{ error.message }}</p>
  <form v-if="mayEdit()" class="form" aria-label="Kept by the client" @submit.prevent="keep">
    <span
      ><label for="kept-box">At</label
      ><select id="kept-box" v-model="device" @change="key = scope = value = ''">
        <option value="">which box?</option>
        <option v-for="b in grid ?? []" :key="b.device" :value="b.device">{{ b.label }}</option>
      </select></span
    >
    <span v-if="box"
      ><label for="kept-key">the client set</label
      ><select id="kept-key" v-model="key" @change="scope = value = ''">
        <option value="">which setting?</option>
        <option v-for="r in box.rows" :key="r.key" :value="r.key">{{ r.label }}</option>
      </select></span
    >
    <span v-if="row && cells.length > 1"
      ><label for="kept-cell">for</label
      ><select id="kept-cell" v-model="scope">
        <option value="">which picture?</option>
        <option v-for="c in cells" :key="c.id" :value="c.id">{{ c.words }}</option>
      </select></span
    >
    <span v-if="row"
      ><label for="kept-value">to</label
      ><input v-if="row.number" id="kept-value" v-model="value" class="short" maxlength="12" />
      <select v-else id="kept-value" v-model="value">
        <option value="">which value?</option>
        <option v-for="o in row.options" :key="o.id" :value="o.id">{{ o.label }}</option>
      </select></span
    >
    <template v-if="row">
      <span class="wide"
        ><label for="kept-why">because, in the client’s words</label
        ><input id="kept-why" v-model="because" maxlength="200" placeholder="too dark by day"
      /></span>
      <span><label for="kept-by">who</label><input id="kept-by" v-model="by" maxlength="60" /></span>
      <button type="submit" class="go" :disabled="!ready">It stays so</button>
    </template>
  </form>
  <p v-if="data && !data.kept.length" class="empty">
    <b>Nothing is kept by the client’s own hand.</b> “I changed it back because …”: note it here. It then
    stands as found and as planned, and no advice sets it otherwise.
  </p>
  <ul v-else-if="data" class="kept" aria-label="Kept by the client">
    <li v-for="k in data.kept" :key="`${k.device}${k.scope}${k.setting}`">
      <p>
        {{ k.label }}{{ k.cell ? `, ${k.cell}` : '' }}: <b>{{ k.name }} {{ k.value }}</b>
      </p>
      <p>
        “{{ k.because }}” <span class="quiet small">{{ [k.by, k.day].filter(Boolean).join(', ') }}</span>
        <button v-if="mayEdit()" class="slight" @click="send(k.device, k.scope, k.setting, '', '')">
          No longer kept
        </button>
      </p>
    </li>
  </ul>
</template>

<style scoped>
.form {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: end;
  padding: 8px 0;
  border-bottom: 1px solid var(--rule);
}
.form span {
  display: grid;
  gap: 2px;
}
.wide {
  flex: 1 1 220px;
}
.short {
  width: 90px;
}
.kept {
  list-style: none;
  padding: 0;
}
.kept li {
  padding: 8px 0;
  border-bottom: 1px solid var(--rule);
}
</style>
