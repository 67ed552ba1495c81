<script setup lang="ts">
import { computed, ref } from 'vue'

import { api, ask, type Device, type Op, type Profile, type Setting } from '../../api/client'
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'
import EdidDialog from './EdidDialog.vue'
import FinderDialog from './FinderDialog.vue'
import ProfileEditor from './editor/ProfileEditor.vue'
import SettingStanding from './SettingStanding.vue'
import ShelfLine from './ShelfLine.vue'

const props = defineProps<{ device: Device; folds: boolean; folded: boolean }>()
const turn = defineModel<number>('turn', { default: 0 })
const emit = defineEmits<{ remove: []; replace: []; fold: []; another: [profile: Profile] }>()
const job = useJob()
const all = ref(false)
const edid = ref(false)
const finding = ref(false)
const used = computed(() => new Set(props.device.ports.filter((p) => p.lead).map((p) => p.id)))
// Settings of sockets in use first; the rest on demand.
const near = computed(() =>
  props.device.settings.filter((s) => !s.scope || used.value.has(s.scope) || s.plan || s.found),
)
const settings = computed(() => (all.value ? props.device.settings : near.value))
const ahead = computed(() => props.device.settings.filter((s) => s.plan && s.plan !== s.found).length)
const rates = computed(() =>
  props.device.ports
    .filter((p) => p.digital)
    .map((p) => `${p.label} ${p.rate}`)
    .join(' · '),
)
const others = computed(() =>
  props.device.ports
    .filter((p) => !p.digital)
    .map((p) => (p.rate ? `${p.label} ${p.rate}` : p.label))
    .join(', '),
)
const start = ref<Record<string, unknown> | null>(null)
const editing = ref(false)
async function openEditor() {
  const path = { job_uid: job.view?.uid ?? '', device_uid: props.device.uid }
  const read = await ask(api.GET('/api/v1/jobs/{job_uid}/devices/{device_uid}/profile', { params: { path } }))
  start.value = read.data
  editing.value = true
}
async function keep(profile: Profile) {
  const op: Op = { op: 'set_profile', device: props.device.uid, profile: profile.data }
  if (await job.change([op], `${props.device.label}: what it is`)) editing.value = false
}
function another(profile: Profile) {
  editing.value = false
  emit('another', profile)
}
function plays(event: Event) {
  const word = (event.target as HTMLSelectElement).value
  const value = word === '' ? null : word === 'yes'
  void job.change(
    [{ op: 'set_fact', device: props.device.uid, path: 'plays', value }],
    `${props.device.label} plays sound: ${word || 'not known'}`,
  )
}
const barred = (s: Setting, id: string) => s.plan !== id && s.barred.some((b) => b.option === id)
const nameOf = (s: Setting, id: string | null) => s.options.find((o) => o.id === id)?.label ?? 'not seen'

function show(layer: 'plan' | 'found', output: string, event: Event) {
  const value = (event.target as HTMLSelectElement).value || null
  const op: Op = { op: 'select_input', layer, device: props.device.uid, value, ...(output ? { output } : {}) }
  void job.change([op], `${props.device.label}: input shown`)
}
function edit(key: 'label' | 'room' | 'firmware' | 'firmware_plan', event: Event) {
  const value = (event.target as HTMLInputElement).value.trim()
  if (value !== props.device[key])
    void job.change(
      [{ op: 'set_device', device: props.device.uid, [key]: value }],
      `${props.device.label}: ${key.replace('_', ' ')}`,
    )
}
function set(s: Setting, layer: 'plan' | 'found', event: Event) {
  const value = (event.target as HTMLSelectElement).value || null
  const op: Op = { op: 'set_setting', layer, device: props.device.uid, scope: s.scope, key: s.key, value }
  const place = s.scope_label ? `${props.device.label}, ${s.scope_label}` : props.device.label
  void job.change(
    [op],
    `${place}: ${s.label} ${layer === 'plan' ? 'to' : 'found'} ${value ? nameOf(s, value) : 'nothing'}`,
  )
}
</script>

<template>
  <article v-if="folded" class="line plate" :aria-label="device.label">
    <button class="open" aria-expanded="false" @click="emit('fold')">
      <b>{{ device.label }}</b>
      <span class="quiet">{{ device.name }}, {{ device.summary || device.kind }}</span>
    </button>
    <span v-if="ahead" class="small ahead">{{ ahead }} to set</span>
  </article>
  <article v-else class="card plate" :aria-label="device.label">
    <header>
      <input
        class="label"
        :value="device.label"
        :aria-label="`Label of ${device.label}`"
        maxlength="60"
        :disabled="!mayEdit()"
        @change="edit('label', $event)"
      />
      <button v-if="folds" class="slight" aria-expanded="true" @click="emit('fold')">
        Fold<span class="sr"> {{ device.label }}</span>
      </button>
      <button v-if="mayEdit()" class="slight" @click="$emit('replace')">
        Replace<span class="sr"> {{ device.label }}</span>
      </button>
      <button v-if="mayEdit()" class="slight" @click="$emit('remove')">
        Take out<span class="sr"> {{ device.label }}</span>
      </button>
    </header>
    <p class="small">
      <b>{{ device.name }}</b> <span class="quiet">{{ device.summary }}</span>
    </p>
    <ShelfLine v-model:turn="turn" :device="device" />
    <p v-if="rates" class="small quiet">
      Gb/s: <span class="fig">{{ rates }}</span>
    </p>
    <p v-if="others" class="small quiet">also: {{ others }}</p>
    <div class="pair">
      <label :for="`room-${device.uid}`">Room</label>
      <input
        :id="`room-${device.uid}`"
        :value="device.room"
        maxlength="60"
        list="rooms"
        :disabled="!mayEdit()"
        @change="edit('room', $event)"
      />
      <label :for="`fw-${device.uid}`">Firmware</label>
      <input
        :id="`fw-${device.uid}`"
        :value="device.firmware"
        maxlength="60"
        placeholder="not read"
        :disabled="!mayEdit()"
        @change="edit('firmware', $event)"
      />
      <label :for="`fwp-${device.uid}`">update to</label>
      <input
        :id="`fwp-${device.uid}`"
        :value="device.firmware_plan"
        maxlength="60"
        :placeholder="device.newest_firmware ? `as found; newest ${device.newest_firmware}` : 'as found'"
        :class="{ differs: device.firmware_plan && device.firmware_plan !== device.firmware }"
        :disabled="!mayEdit()"
        @change="edit('firmware_plan', $event)"
      />
      <template v-for="s in device.shows" :key="s.output">
        <template v-for="layer in ['found', 'plan'] as const" :key="layer">
          <label :for="`shows-${layer}-${s.output}-${device.uid}`">
            {{ s.label ? `${s.label} shows` : 'Shows' }}{{ layer === 'plan' ? ', planned' : '' }}
          </label>
          <select
            :id="`shows-${layer}-${s.output}-${device.uid}`"
            :value="s[layer] ?? ''"
            :class="{ differs: layer === 'plan' && s.plan && s.plan !== s.found }"
            :disabled="!mayEdit()"
            @change="show(layer, s.output, $event)"
          >
            <option value="">{{ layer === 'plan' ? 'as found' : 'not seen' }}</option>
            <option v-for="i in s.inputs" :key="i.id" :value="i.id">{{ i.label }}</option>
          </select>
        </template>
      </template>
      <template v-if="device.role !== 'source'">
        <label :for="`plays-${device.uid}`">Plays sound</label>
        <select
          :id="`plays-${device.uid}`"
          :value="device.plays === null ? '' : device.plays ? 'yes' : 'no'"
          :disabled="!mayEdit()"
          @change="plays"
        >
          <option value="">not known</option>
          <option value="yes">yes</option>
          <option value="no">no</option>
        </select>
      </template>
    </div>
    <p class="row">
      <button v-if="mayEdit() && device.role === 'screen'" class="slight edid" @click="edid = true">
        Read an EDID<span class="sr"> of {{ device.label }}</span>
      </button>
      <button v-if="mayEdit()" class="slight" @click="finding = true">
        Find a setting<span class="sr"> on {{ device.label }}</span>
      </button>
      <button v-if="mayEdit()" class="slight" @click="openEditor">
        What it is<span class="sr">: {{ device.label }}</span>
      </button>
    </p>
    <FinderDialog v-if="finding" v-model:visible="finding" :device="device" />
    <ProfileEditor
      v-if="editing"
      v-model:visible="editing"
      :start="start"
      :box="device.label"
      @keep="keep"
      @add="another"
    />
    <EdidDialog v-if="edid" v-model:visible="edid" :device="device" />
    <table v-if="settings.length" class="settings">
      <thead>
        <tr>
          <th>setting</th>
          <th>found</th>
          <th>plan</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="s in settings" :key="s.key + s.scope">
          <tr>
            <td :title="s.where">
              {{ s.label }}<span v-if="s.scope_label" class="quiet">, {{ s.scope_label }}</span>
            </td>
            <td>
              <select
                :value="s.found ?? ''"
                :disabled="!mayEdit()"
                :aria-label="`${device.label} ${s.scope_label} ${s.label} found`"
                @change="set(s, 'found', $event)"
              >
                <option value="">not seen</option>
                <option v-for="o in s.options" :key="o.id" :value="o.id">{{ o.label }}</option>
              </select>
            </td>
            <td>
              <select
                :value="s.plan ?? ''"
                :class="{ differs: s.plan && s.plan !== s.found }"
                :disabled="!mayEdit()"
                :aria-label="`${device.label} ${s.scope_label} ${s.label} plan`"
                @change="set(s, 'plan', $event)"
              >
                <option value="">{{ s.found ? 'as found' : `factory: ${nameOf(s, s.default)}` }}</option>
                <option v-for="o in s.options" :key="o.id" :value="o.id" :disabled="barred(s, o.id)">
                  {{ o.label }}
                </option>
              </select>
            </td>
          </tr>
          <tr v-if="s.standing || s.barred.some((b) => b.option === s.value)">
            <td colspan="3"><SettingStanding :setting="s" /></td>
          </tr>
        </template>
      </tbody>
    </table>
    <RouterLink v-if="device.in_cells" class="small" :to="{ path: 'settings', query: { part: 'values' } }"
      >{{ device.in_cells }} more kept per input, range or preset</RouterLink
    >
    <button v-if="near.length < device.settings.length" class="plain small more" @click="all = !all">
      {{ all ? 'Only sockets in use' : `${device.settings.length - near.length} more on free sockets` }}
    </button>
  </article>
</template>

<style scoped>
.card {
  padding: 8px 12px 10px;
  display: grid;
  gap: 4px;
  border-color: var(--rule);
}
.line {
  min-width: 0;
  display: flex;
  gap: 8px;
  align-items: center;
  border-color: var(--rule);
}
.open {
  flex: 1;
  min-width: 0;
  border: 0;
  background: none;
  text-align: left;
  font-weight: 400;
  overflow: hidden;
  text-overflow: ellipsis;
}
.open b {
  margin-right: 6px;
}
.ahead {
  padding: 0 10px;
  color: var(--signal);
  font-weight: 600;
}
header {
  display: flex;
  gap: 8px;
}
.label {
  flex: 1;
  font-weight: 650;
  font-size: 15px;
  border-color: transparent;
  padding: 2px 4px;
  margin-left: -5px;
  min-width: 0;
  background: none;
}
.label:hover:not(:disabled),
.label:focus {
  border-color: var(--rule-strong);
}
.pair {
  display: grid;
  grid-template-columns: auto 1fr auto 1fr;
  gap: 8px;
  align-items: center;
}
.pair input {
  min-width: 0;
  min-height: 30px;
}
@media (max-width: 600px) {
  header {
    flex-wrap: wrap;
  }
  .label {
    flex: 1 1 100%;
  }
  .pair {
    grid-template-columns: auto 1fr !important;
  }
}
.settings {
  border-collapse: collapse;
  width: 100%;
  margin-top: 4px;
  table-layout: fixed;
}
.settings th {
  font-size: 13px;
  font-weight: 400;
  color: var(--ink-2);
  text-align: left;
}
.settings th:first-child {
  width: 38%;
}
.settings td {
  padding: 2px 6px 2px 0;
  font-size: 13.5px;
}
.settings select {
  width: 100%;
  min-height: 28px;
  padding: 2px 4px;
}
@media (max-width: 480px) {
  /* a setting's name over what was found and what is planned */
  .settings thead {
    display: none;
  }
  .settings tr {
    display: grid;
    grid-template-columns: 1fr 1fr;
    padding-top: 4px;
  }
  .settings td:first-child {
    grid-column: 1 / -1;
    font-weight: 600;
  }
  .settings td:nth-child(2)::before {
    content: 'found';
    color: var(--ink-2);
  }
  .settings td:nth-child(3)::before {
    content: 'plan';
    color: var(--ink-2);
  }
}
.edid {
  justify-self: start;
}
.more {
  justify-self: start;
  padding-left: 0;
}
.differs {
  border-color: var(--signal);
  background: var(--signal-soft);
  font-weight: 600;
}
</style>
