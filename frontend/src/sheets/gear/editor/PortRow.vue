<script setup lang="ts">
// The sockets as a row, as on the back of the box; the chosen one's particulars below.
import { computed, ref } from 'vue'

import { idOf, type Draft, type GearWords, type PortPart } from './draft'
import AnalogueFields from './AnalogueFields.vue'
import VideoFields from './VideoFields.vue'

const props = defineProps<{ words: GearWords }>()
const draft = defineModel<Draft>('draft', { required: true })
const chosen = ref(0)
const port = computed(() => draft.value.ports[chosen.value] ?? null)
const kindOf = (name?: string) => props.words.port_kinds.find((k) => k.id === (name || 'hdmi'))
const kind = computed(() => kindOf(port.value?.kind))
const plugs = computed(() => props.words.connectors[port.value?.kind ?? 'hdmi'] ?? [])

function add(direction: 'in' | 'out') {
  const ports = draft.value.ports
  const same = ports.filter((p) => p.direction === direction && (p.kind ?? 'hdmi') === 'hdmi').length
  const label = direction === 'in' ? `HDMI ${same + 1}` : 'HDMI out'
  ports.push({
    id: idOf(
      label,
      ports.map((p) => p.id),
    ),
    label,
    direction,
  })
  chosen.value = ports.length - 1
}
function remove() {
  draft.value.ports.splice(chosen.value, 1)
  chosen.value = Math.max(0, chosen.value - 1)
}
function set(key: keyof PortPart & string, value: string) {
  const p = port.value
  if (!p) return
  if (value === '' && key !== 'label') Reflect.deleteProperty(p, key)
  else p[key] = value
  if (key === 'kind') {
    for (const part of ['returns', 'sends', 'takes', 'links', 'decodes']) Reflect.deleteProperty(p, part)
    if (value === 'dvi') p.links = 1
    if (kindOf(value)?.digital) Reflect.deleteProperty(p, 'connector')
    else p.connector = props.words.connectors[value]?.[0] ?? ''
  }
}
function setVideo(field: string, value: unknown) {
  const p = port.value
  if (!p) return
  const video = { ...(p.video ?? {}) }
  if (value === undefined) Reflect.deleteProperty(video, field)
  else video[field] = value
  if (Object.keys(video).length) p.video = video
  else Reflect.deleteProperty(p, 'video')
}
const value = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value
</script>

<template>
  <section aria-label="Sockets">
    <h2>Sockets</h2>
    <div class="back" role="group" aria-label="Sockets as on the box">
      <button
        v-for="(p, n) in draft.ports"
        :key="p.id"
        class="socket"
        :class="[p.kind ?? 'hdmi', { on: n === chosen }]"
        :aria-pressed="n === chosen"
        @click="chosen = n"
      >
        <i aria-hidden="true"></i>{{ p.label }}<small>{{ p.direction }}</small>
      </button>
      <button class="small" @click="add('in')">+ input</button>
      <button class="small" @click="add('out')">+ output</button>
    </div>
    <div v-if="port" class="one">
      <div class="fields">
        <span>
          <label for="port-label">Name on the box</label>
          <input id="port-label" :value="port.label" maxlength="40" @change="set('label', value($event))" />
        </span>
        <span>
          <label for="port-kind">Carries</label>
          <select id="port-kind" :value="port.kind ?? 'hdmi'" @change="set('kind', value($event))">
            <option v-for="k in words.port_kinds" :key="k.id" :value="k.id">{{ k.name }}</option>
          </select>
        </span>
        <span v-if="!kind?.digital">
          <label for="port-plug">Plug</label>
          <select id="port-plug" :value="port.connector" @change="set('connector', value($event))">
            <option v-for="c in plugs" :key="c" :value="c">{{ c.replace('_', '-') }}</option>
          </select>
        </span>
        <span v-else-if="port.kind === 'dvi'">
          <label for="port-links">Links</label>
          <select id="port-links" :value="port.links" @change="port.links = Number(value($event))">
            <option :value="1">single</option>
            <option :value="2">dual</option>
          </select>
        </span>
        <span v-else-if="port.kind && port.kind !== 'hdmi' && port.direction === 'in'">
          <label for="port-decodes">Compression</label>
          <select
            id="port-decodes"
            :value="port.decodes ? 'yes' : ''"
            @change="port.decodes = value($event) === 'yes' || undefined"
          >
            <option value="">goes on as it comes</option>
            <option value="yes">ends here</option>
          </select>
        </span>
        <span v-else-if="!port.kind || port.kind === 'hdmi'">
          <label for="port-returns">Sound comes back</label>
          <select id="port-returns" :value="port.returns ?? ''" @change="set('returns', value($event))">
            <option value="">no</option>
            <option v-for="r in words.returns" :key="r.id" :value="r.id">by {{ r.name }}</option>
          </select>
        </span>
        <span>
          <label for="port-source">Known from</label>
          <select
            id="port-source"
            :value="port.source ?? 'makers_claim'"
            @change="set('source', value($event))"
          >
            <option v-for="s in words.sources" :key="s.id" :value="s.id">{{ s.name }}</option>
          </select>
        </span>
        <button v-if="draft.ports.length > 1" class="slight" @click="remove">
          Take {{ port.label }} out
        </button>
      </div>
      <AnalogueFields
        v-if="port.kind === 'analogue'"
        :key="`${chosen}${port.direction}`"
        :port="port"
        :words="words"
      />
      <details v-if="kind?.digital" :open="!!port.video">
        <summary>Where {{ port.label }} differs from the rest</summary>
        <VideoFields
          id="port"
          :video="port.video ?? {}"
          :words="words"
          empty="as the box"
          :without="kind.without"
          @set="setVideo"
        />
      </details>
    </div>
  </section>
</template>

<style scoped src="./fields.css"></style>
<style scoped>
.back {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  padding: 8px;
  background: var(--sunk);
  border: 1px solid var(--rule);
}
.socket {
  display: grid;
  justify-items: center;
  gap: 2px;
  min-width: 76px;
  padding: 6px 8px;
  font-size: 13px;
  font-weight: 500;
}
.socket i {
  width: 22px;
  height: 9px;
  border: 1.5px solid currentColor;
  border-radius: 1px 1px 5px 5px;
}
.socket:not(.hdmi) i {
  width: 10px;
  height: 10px;
  border-radius: 50%;
}
.socket small {
  color: var(--ink-3);
  font-size: 13px;
}
.socket.on {
  border-color: var(--signal);
  box-shadow: 0 0 0 2px var(--signal-soft);
}
.one {
  padding: 8px 0;
}
details {
  margin-top: 6px;
}
summary {
  cursor: pointer;
  font-size: 13.5px;
}
</style>
