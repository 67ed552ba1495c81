<script setup lang="ts">
// Read an EDID at an input: what it would correct, what it cannot tell.
import Dialog from 'primevue/dialog'
import { computed, ref, watch } from 'vue'

import { api, ask, Problem, type Device } from '../../api/client'
import type { components } from '../../api/schema'
import { tell } from '../../shared/announce'
import { useJob } from '../../shared/job'
import EdidReport from './EdidReport.vue'
import EdidSource from './add/EdidSource.vue'

const props = defineProps<{ device: Device }>()
const visible = defineModel<boolean>('visible', { required: true })
const job = useJob()
const inputs = computed(() => props.device.ports.filter((p) => p.direction === 'in'))
const port = ref(inputs.value[0]?.id ?? '')
const text = ref('')
const fault = ref('')
const told = ref<components['schemas']['Taught'] | null>(null)
watch([port, text], () => (told.value = null))

async function check() {
  fault.value = ''
  const path = { job_uid: job.view?.uid ?? '', device_uid: props.device.uid, port: port.value }
  try {
    told.value = await ask(
      api.POST('/api/v1/jobs/{job_uid}/devices/{device_uid}/inputs/{port}/edid', {
        params: { path },
        body: { text: text.value },
      }),
    )
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    fault.value = problem.detail
  }
}
const elsewhere = computed(() =>
  inputs.value.find((p) => p.id === told.value?.says_input && p.id !== port.value),
)
async function readAt(id: string) {
  port.value = id
  await check()
}
async function apply() {
  if (!told.value) return
  const name = inputs.value.find((p) => p.id === port.value)?.label ?? port.value
  if (await job.change(told.value.ops, `${props.device.label}, ${name}: as its EDID says`)) {
    tell(`${props.device.label}, ${name} is as its EDID says.`, { undo: true })
    visible.value = false
  }
}
</script>

<template>
  <Dialog
    v-model:visible="visible"
    modal
    dismissable-mask
    :header="`Read an EDID: ${device.label}`"
    :style="{ width: '760px', maxWidth: '96vw' }"
  >
    <div class="row">
      <label :for="`edid-port-${device.uid}`">At</label>
      <select :id="`edid-port-${device.uid}`" v-model="port">
        <option v-for="p in inputs" :key="p.id" :value="p.id">{{ p.label }}</option>
      </select>
    </div>
    <EdidSource v-model="text" @fault="fault = $event" @picked="check" />
    <p class="row">
      <button :disabled="!text.trim()" @click="check">Read</button>
      <span v-if="fault" class="attn" role="alert">{{ fault }}</span>
    </p>
    <template v-if="told">
      <h2>{{ told.name }} says</h2>
      <p v-if="elsewhere" class="row hint">
        Its address is that of {{ elsewhere.label }}.
        <button class="slight" @click="readAt(elsewhere.id)">Read it there</button>
      </p>
      <p v-if="!told.rows.length">Nothing that is not known of this input already.</p>
      <table v-else class="plain">
        <thead>
          <tr>
            <th>What</th>
            <th>Known so far</th>
            <th>The EDID</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in told.rows" :key="r.field">
            <td>{{ r.field }}</td>
            <td class="quiet">{{ r.before }}</td>
            <td>{{ r.after }}</td>
          </tr>
        </tbody>
      </table>
      <ul v-if="told.findings.length">
        <li v-for="f in told.findings" :key="f" class="attn">{{ f }}</li>
      </ul>
      <details class="all" open>
        <summary>All it says</summary>
        <EdidReport :report="told.report" />
      </details>
      <p class="quiet small">It cannot tell {{ told.cannot_tell.join('; ') }}.</p>
      <p class="row end"><button v-if="told.rows.length" class="go" @click="apply">Take it over</button></p>
    </template>
  </Dialog>
</template>

<style scoped>
h2 {
  margin: 12px 0 6px;
}
td {
  overflow-wrap: anywhere;
  font-size: 13.5px;
}
.all {
  margin: 10px 0;
}
summary {
  cursor: pointer;
  font-weight: 600;
  font-size: 14px;
  margin-bottom: 6px;
}
.end {
  justify-content: flex-end;
  margin-top: 10px;
}
</style>
