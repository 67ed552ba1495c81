<script setup lang="ts">
// What must stay and what may go, which leads are in the wall, how far rooms are apart: every advice honours it.
import { computed } from 'vue'

import type { Op } from '../../api/client'
import { useJob } from '../../shared/job'
import { mayEdit } from '../../shared/session'

type Mark = 'stays' | 'may_go'
const job = useJob()
const boxes = computed(() => job.shown?.devices ?? [])
const leads = computed(() => job.shown?.leads ?? [])
const GROUPS = [
  {
    mark: 'stays',
    kind: 'box',
    title: 'Boxes that must stay',
    says: 'No advice takes them out of the picture.',
  },
  { mark: 'may_go', kind: 'box', title: 'Boxes that may go', says: 'Their sockets may be given to others.' },
  { mark: 'stays', kind: 'lead', title: 'Leads in the wall', says: 'No advice replaces or moves them.' },
] as const
const marked = (g: (typeof GROUPS)[number]) =>
  (g.kind === 'box' ? boxes.value : leads.value).filter((x) => x.mark === g.mark)
const others = (g: (typeof GROUPS)[number]) =>
  (g.kind === 'box' ? boxes.value : leads.value).filter((x) => x.mark !== g.mark)

function set(kind: 'box' | 'lead', uid: string, mark: Mark | '') {
  const op: Op =
    kind === 'box' ? { op: 'set_device', device: uid, mark } : { op: 'replace_lead', lead: uid, mark }
  void job.change([op], mark ? 'mark set' : 'mark taken off')
}
function add(g: (typeof GROUPS)[number], event: Event) {
  const field = event.target as HTMLSelectElement
  if (field.value) set(g.kind, field.value, g.mark)
  field.value = ''
}
function far(rooms: string[], event: Event) {
  const text = (event.target as HTMLInputElement).value.replace(',', '.').trim()
  const value = text ? Math.round(Number(text) * 1000) : null
  void job.change([{ op: 'set_distance', rooms, value }], `from ${rooms.join(' to ')}`)
}
</script>

<template>
  <section aria-label="What must stay">
    <h2>What must stay, what may go</h2>
    <div class="groups">
      <div v-for="g in GROUPS" :key="g.title" class="group">
        <h3>{{ g.title }}</h3>
        <p class="quiet small">{{ g.says }}</p>
        <ul>
          <li v-for="x in marked(g)" :key="x.uid">
            {{ x.label }}
            <button v-if="mayEdit()" class="slight" @click="set(g.kind, x.uid, '')">
              Take off<span class="sr"> {{ x.label }}</span>
            </button>
          </li>
        </ul>
        <select v-if="mayEdit()" :aria-label="`Add to: ${g.title}`" @change="add(g, $event)">
          <option value="">add one…</option>
          <option v-for="x in others(g)" :key="x.uid" :value="x.uid">{{ x.label }}</option>
        </select>
      </div>
      <div v-if="job.shown?.distances.length" class="group">
        <h3>From room to room</h3>
        <p class="quiet small">How long a lead between them must be; asked once.</p>
        <ul>
          <li v-for="d in job.shown.distances" :key="d.rooms.join()">
            <label>
              {{ d.rooms.join(' to ') }}
              <input
                type="number"
                min="0.1"
                max="200"
                step="0.1"
                :value="d.mm === null ? '' : d.mm / 1000"
                :disabled="!mayEdit()"
                :title="d.asked_by.length ? `For ${d.asked_by.join(', ')}` : undefined"
                @change="far(d.rooms, $event)"
              />
              m
            </label>
          </li>
        </ul>
      </div>
    </div>
  </section>
</template>

<style scoped>
section {
  margin-bottom: 18px;
}
.groups {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  gap: 8px 18px;
}
h3 {
  font-size: 13.5px;
  margin: 6px 0 0;
}
ul {
  list-style: none;
  padding: 0;
  margin: 4px 0;
}
li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  min-height: 32px;
}
li label {
  display: flex;
  align-items: center;
  gap: 6px;
  width: 100%;
}
input {
  width: 76px;
  margin-left: auto;
}
</style>
