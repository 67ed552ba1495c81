<script setup lang="ts">
// The rig laid out by the program in columns by role. Pick a socket, then choose where it goes.
import { useElementSize, useMediaQuery } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'

import type { Lead, Port } from '../../api/client'
import { useKeys } from '../../shared/keys'
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'
import PickRow from '../../shared/PickRow.vue'
import AssignDialog from './AssignDialog.vue'
import BoxNode from './BoxNode.vue'
import CableSchedule from './CableSchedule.vue'
import InputPicker from './InputPicker.vue'
import KeepMenu from './KeepMenu.vue'
import type { Box } from './board'
import { layOut } from './layout'
import LeadPanel from './LeadPanel.vue'

const job = useJob()
const frame = ref<HTMLElement | null>(null)
const { width } = useElementSize(frame)
const picked = ref<{ device: string; port: string } | null>(null)
const lead = ref<string | null>(null)
const LEAST_WIDTH = 560
const [MOUSE_ROW, TOUCH_ROW] = [24, 42]
const touch = useMediaQuery('(pointer: coarse)')
const PANEL = 408
const PRINT_MS = 600
const TALL = 365 // about as high as a panel gets: it moves up rather than out of sight

const room = ref('')
const seen = computed(() => {
  if (!job.shown || !room.value || !job.shown.rooms.includes(room.value)) return job.shown
  return { ...job.shown, devices: job.shown.devices.filter((d) => d.room === room.value) }
})
const board = computed(() =>
  seen.value
    ? layOut(seen.value, Math.max(width.value, LEAST_WIDTH), touch.value ? TOUCH_ROW : MOUSE_ROW)
    : null,
)
const onRun = computed(() => new Set(job.run?.stages.map((s) => s.device)))
const loose = computed(() => job.shown?.leads.filter((l) => !l.a || !l.b) ?? [])
const moved = computed(() => job.shown?.leads.filter((l) => l.moved) ?? [])
const hangsSo = (leads: Lead[]) =>
  void job.change(
    leads.map((l) => ({ op: 'found_as_planned', lead: l.uid })),
    leads.length === 1 ? `lead ${leads[0]?.label ?? ''} hangs as planned` : 'leads hang as planned',
  )
const best = ref(false)
const printing = ref(false)
async function print() {
  printing.value = true
  await new Promise((done) => setTimeout(done, PRINT_MS)) // the schedule is asked for and set
  window.print()
  printing.value = false
}

function onSocket(box: Box, port: Port) {
  lead.value = null
  picked.value = null
  if (port.direction === 'out') picked.value = { device: box.device.uid, port: port.id }
  else if (port.lead) lead.value = port.lead
  else picked.value = { device: box.device.uid, port: port.id }
}
const pickedBox = computed(
  () => board.value?.boxes.find((b) => b.device.uid === picked.value?.device) ?? null,
)
const pickedPort = computed(
  () => pickedBox.value?.device.ports.find((p) => p.id === picked.value?.port) ?? null,
)
// The panel stands beside the box, or below it where there is no room: never over the socket it is about.
const panelPlace = computed(() => {
  const wire = board.value?.wires.find((w) => w.lead.uid === lead.value)
  const anchor = pickedBox.value ?? board.value?.boxes.find((b) => b.device.uid === wire?.lead.b?.device)
  if (!anchor || !board.value) return {}
  const right = anchor.x + anchor.w + 16
  if (right + PANEL <= board.value.width) {
    const top = Math.max(0, Math.min(anchor.y, board.value.height - TALL))
    return { left: `${right}px`, top: `${top}px` }
  }
  const left = Math.max(0, Math.min(anchor.x, board.value.width - PANEL))
  return { left: `${left}px`, top: `${anchor.y + anchor.h + 8}px` }
})
const wireClass = (l: Lead) => [l.verdict ?? 'idle', l.kind, { run: job.run && l.runs.includes(job.run.uid) }]
const pickLead = (uid: string) => {
  picked.value = null
  lead.value = lead.value === uid ? null : uid
}
function close() {
  picked.value = null
  lead.value = null
}
watch(() => job.view?.uid, close)
// what was picked in the list below opens beside its box: it is brought into sight
watch([picked, lead], async () => {
  await nextTick()
  frame.value?.querySelector('.place')?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
})
// another run: its source is brought into sight
watch(
  () => board.value !== null && width.value > 0 && job.run?.uid,
  async (uid) => {
    await nextTick()
    const source = uid ? frame.value?.querySelector('.box.source') : null
    source?.scrollIntoView({ block: 'nearest' })
  },
  { immediate: true },
)
useKeys([
  { key: 'M', does: 'The best places for every source', run: () => (best.value = true) },
  {
    key: 'Escape',
    does: 'Close, or end trying',
    run: () => {
      if (picked.value || lead.value) close()
      else job.stopTry()
    },
  },
])
</script>

<template>
  <div class="top">
    <div>
      <h1>Wiring</h1>
      <p>{{ job.shown?.summary }} Pick a socket, then choose where it goes.</p>
    </div>
    <span class="row">
      <button v-if="job.shown?.runs.length" @click="best = true">Best places <kbd>M</kbd></button>
      <KeepMenu v-if="job.shown?.devices.length" @print="print" />
    </span>
  </div>
  <PickRow
    v-if="(job.shown?.rooms.length ?? 0) > 1"
    class="rooms"
    label="Rooms shown"
    :list="['', ...(job.shown?.rooms ?? [])].map((name) => ({ id: name, name: name || 'all rooms' }))"
    :on="[room]"
    @pick="room = $event"
  />
  <AssignDialog v-model:visible="best" />
  <CableSchedule v-if="printing" />
  <div v-if="job.shown && !job.shown.devices.length" class="empty">
    <b>No box yet.</b>
    Add a source and a screen on <RouterLink to="gear">Gear</RouterLink>; then plug them together here.
  </div>
  <div ref="frame" class="frame">
    <div
      v-if="board && board.boxes.length"
      class="board"
      :style="{ height: `${board.height + 20}px`, width: `${board.width}px` }"
    >
      <div
        v-for="b in board.bands"
        :key="b.room"
        class="band"
        :style="{ top: `${b.y}px`, width: `${board.width}px` }"
      >
        <span v-for="(h, n) in b.heads" :key="h.x" :style="{ left: `${h.x}px` }"
          ><b v-if="n === 0 && b.room">{{ b.room }}, </b>{{ h.text }}</span
        >
      </div>
      <svg :width="board.width" :height="board.height + 20" aria-hidden="true">
        <g
          v-for="w in board.wires"
          :key="w.lead.uid"
          :class="wireClass(w.lead)"
          @click="pickLead(w.lead.uid)"
        >
          <path :d="w.path" class="hit" />
          <path :d="w.path" class="wire" />
        </g>
        <!-- over every wire, so that none crosses a figure -->
        <g v-for="w in board.wires" :key="`tag ${w.lead.uid}`" :class="wireClass(w.lead)" class="tags">
          <text class="tag" :x="w.tagX" :y="w.tagY">
            {{ w.lead.short }}
          </text>
        </g>
      </svg>
      <BoxNode
        v-for="b in board.boxes"
        :key="b.device.uid"
        :box="b"
        :row="board.row"
        :on-run="onRun.has(b.device.uid)"
        :class="{ source: b.device.uid === job.run?.source }"
        :picked="picked?.device === b.device.uid ? picked.port : null"
        @socket="(p) => onSocket(b, p)"
      />
      <div v-if="picked || lead" class="place" :style="panelPlace">
        <InputPicker
          v-if="picked && pickedPort?.direction === 'out'"
          :key="picked.device + picked.port"
          :device="picked.device"
          :port="picked.port"
          @close="close"
        />
        <section v-else-if="picked" class="float hint">
          <b>{{ pickedBox?.device.label }}, {{ pickedPort?.label }} is free.</b>
          <p>It takes {{ pickedPort?.rate_text }}. Pick the output that shall feed it.</p>
          <button @click="close">Close <kbd>Esc</kbd></button>
        </section>
        <LeadPanel v-else-if="lead" :key="lead" :uid="lead" @close="close" />
      </div>
    </div>
  </div>
  <section v-if="job.shown?.leads.length" class="leads">
    <div class="row">
      <h2>Leads</h2>
      <button v-if="moved.length > 1 && mayEdit()" class="small" @click="hangsSo(moved)">
        All {{ moved.length }} hang as planned
      </button>
    </div>
    <ul>
      <li v-for="l in job.shown.leads" :key="l.uid">
        <button :aria-pressed="lead === l.uid" @click="pickLead(l.uid)">
          <b>{{ l.label }}</b> {{ l.grade_name }},
          {{ l.length_mm == null ? 'not measured' : `${l.length_mm / 1000} m` }}
          <span v-if="l.hanging" class="quiet">· {{ l.hanging }}</span
          ><span v-if="loose.includes(l)" class="attn">· loose</span>
        </button>
        <button v-if="l.moved && mayEdit()" class="slight small" @click="hangsSo([l])">
          hangs so<span class="sr">: {{ l.label }}</span>
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.top {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 4px 12px;
  align-items: start;
}
.rooms {
  margin: 2px 0 8px;
}
.top > div {
  flex: 1 1 320px;
}
.frame {
  overflow-x: auto;
  overflow-y: hidden;
}
.board {
  position: relative;
  min-height: 430px;
}
.band {
  position: absolute;
  left: 0;
  font-size: 13px;
  color: var(--ink-3);
  border-top: 1px solid var(--rule);
  height: 22px;
  line-height: 22px;
}
.band span {
  position: absolute;
}
.band b {
  font-weight: 650;
  color: var(--ink-2);
}
svg {
  position: absolute;
  inset: 0;
  overflow: visible;
}
g {
  cursor: pointer;
  color: var(--ink-2);
}
path {
  fill: none;
}
.wire {
  stroke: currentColor;
  stroke-width: 2.5;
}
.hit {
  stroke: transparent;
  stroke-width: 18;
}
g.run {
  color: var(--ink);
}
g.run .wire {
  stroke: var(--signal);
  stroke-width: 6;
}
g.blocked,
g.run.blocked {
  color: var(--blocked);
}
g.blocked .wire {
  stroke: var(--blocked);
  stroke-dasharray: 9 5;
}
g.run.blocked .wire {
  stroke-width: 8;
}
g.tight .wire {
  stroke: var(--tight);
  stroke-dasharray: 14 3;
}
g.unknown .wire {
  stroke: var(--ink-3);
  stroke-dasharray: 3 4;
}
g.audio .wire {
  stroke-dasharray: 2 4;
  stroke-width: 2.5;
}
g.analogue .wire {
  stroke-dasharray: 12 3 2 3;
}
g.power .wire {
  stroke-dasharray: 1 6;
}
.tags {
  pointer-events: none;
}
.tag {
  font: 600 13px var(--figure);
  fill: currentColor;
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 4px;
}
.place {
  position: absolute;
  z-index: 20;
}
.hint {
  padding: 12px;
  width: 260px;
  display: grid;
  gap: 8px;
}
.leads {
  margin-top: 8px;
}
@media print {
  .top,
  .rooms,
  .frame,
  .leads {
    display: none;
  }
}
.leads ul {
  list-style: none;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 4px;
}
.leads button {
  font-weight: 400;
  font-size: 13px;
  min-height: 30px;
  padding: 3px 9px;
  border-color: var(--rule);
}
</style>
