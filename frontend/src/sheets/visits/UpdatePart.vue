<script setup lang="ts">
// After an update: say which version runs now; what is known of it, what rests on the old one, what to look at first.
import { computed, ref } from 'vue'

import { api, ask } from '../../api/client'
import { useJobAnswer } from '../../shared/answers'
import { useJob } from '../../shared/job'
import { mayEdit } from '../../shared/session'
import RecheckBox from './RecheckBox.vue'

const job = useJob()
const { data, error } = useJobAnswer(
  'updates',
  (path) => ask(api.GET('/api/v1/jobs/{job_uid}/updates', { params: { path } })),
  { mounted: 'always' },
)
const device = ref('')
const version = ref('')
const boxes = computed(() => job.view?.devices ?? [])
const chosen = computed(() => boxes.value.find((d) => d.uid === device.value))
const FORM = /^[0-9]{1,6}(\.[0-9]{1,6}){0,3}$/
const wrong = computed(() => version.value.trim() !== '' && !FORM.test(version.value.trim()))
const asked = computed(() => chosen.value && version.value.trim() && !wrong.value)
const runs = computed(() => chosen.value?.firmware === version.value.trim())
const { data: ahead } = useJobAnswer(
  'update-of',
  (path) =>
    ask(
      api.GET('/api/v1/jobs/{job_uid}/devices/{device_uid}/update', {
        params: { path: { ...path, device_uid: device.value }, query: { version: version.value.trim() } },
      }),
    ),
  { also: () => [device.value, version.value.trim()], enabled: () => !!asked.value && !runs.value },
)
async function itHas() {
  const box = chosen.value
  const now = version.value.trim()
  if (!box || !now) return
  await job.change([{ op: 'set_device', device: box.uid, firmware: now }], `${box.label} now has ${now}`)
  device.value = version.value = ''
}
function fill(uid: string, newest: string) {
  device.value = uid
  version.value = newest
}
const wasRead = computed(() => !!chosen.value?.firmware)
</script>

<template>
  <p v-if="error" class="attn" role="alert">{{ error.message }}</p>
  <p v-else-if="!data" class="quiet">Asking which versions are known…</p>
  <template v-else>
    <form v-if="mayEdit()" class="row say" aria-label="Say a version" @submit.prevent="itHas">
      <label for="up-box">The</label>
      <select id="up-box" v-model="device">
        <option value="">which box?</option>
        <option v-for="d in boxes" :key="d.uid" :value="d.uid">{{ d.label }}</option>
      </select>
      <label for="up-version">now has</label>
      <input
        id="up-version"
        v-model="version"
        class="short"
        maxlength="30"
        placeholder="3.4"
        :aria-invalid="wrong"
      />
      <button type="submit" class="go" :disabled="!asked || runs">It has it now</button>
      <span v-if="wrong" class="attn">A version is numbers and dots, as 3.4 or 10.2.1.</span>
      <span v-else-if="chosen" class="quiet small">{{
        runs
          ? 'It runs that already.'
          : wasRead
            ? `noted so far: ${chosen.firmware}`
            : 'nobody has read its version yet'
      }}</span>
    </form>
    <section v-if="ahead && asked && !runs" class="ahead" aria-label="Before the update">
      <h2>If {{ ahead.label }} goes to {{ ahead.version }}</h2>
      <RecheckBox :told="ahead" />
    </section>
    <section v-for="b in data.boxes" :key="b.device" :aria-label="`${b.label} after its update`">
      <h2>{{ b.label }} went from {{ b.was || 'a version nobody read' }} to {{ b.version }}</h2>
      <RecheckBox :told="b" />
    </section>
    <p v-if="!data.boxes.length && !ahead" class="empty">
      <b>No update is noted.</b> Say above which version a box has now. What it may have put back is then
      listed, the most likely first, in the fewest looks that find it.
    </p>
    <section v-if="data.advice.length" aria-label="Versions known">
      <h2>Newer versions known</h2>
      <ul>
        <li v-for="a in data.advice" :key="a.device">
          <b>{{ a.label }}</b> {{ a.firmware ? `has ${a.firmware}` : '' }}: {{ a.words }}
          <button v-if="a.firmware && mayEdit()" class="slight" @click="fill(a.device, a.newest)">
            Look ahead to {{ a.newest }}
          </button>
        </li>
      </ul>
    </section>
    <p class="quiet small">
      Updates by themselves: {{ data.school_words }} (house style, under Settings). An update nobody announced
      is found out by what it put back.
    </p>
  </template>
</template>

<style scoped>
.say {
  padding: 8px 0;
  border-bottom: 1px solid var(--rule);
}
.short {
  width: 90px;
}
section {
  margin: 12px 0;
}
h2 {
  font-size: 17px;
  color: var(--ink);
}
.ahead {
  border-left: 4px solid var(--rule-strong);
  padding-left: 12px;
}
</style>
