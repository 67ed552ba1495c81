<script setup lang="ts">
// Every mode the run's boxes share, by encoding and depth; each cell the share of the line left over.
import { computed } from 'vue'

import type { Cell, Row, Table } from '../api/client'
import VerdictIcon from './VerdictIcon.vue'

export interface Chosen {
  mode: string
  encoding: string
  bits: number
}
const props = defineProps<{ table: Table; chosen: Chosen | null; filter: string }>()
const emit = defineEmits<{ choose: [cell: Chosen]; want: [cell: Chosen] }>()

const columns = computed(() =>
  props.table.columns
    .map((c, at) => ({ ...c, at }))
    .filter((c) => (props.filter === 'hdr' ? c.deep : props.filter === 'full' ? c.full : true)),
)
const rows = computed(() =>
  props.table.rows.filter((r) => {
    if (props.filter === 'fast') return r.fast
    return props.filter === 'fits' ? r.carried : true
  }),
)
const isChosen = (r: Row, c: Cell) =>
  props.chosen?.mode === r.mode && props.chosen.encoding === c.encoding && props.chosen.bits === c.bits
const label = (r: Row, c: Cell, name: string) => `${r.name} ${name} ${c.bits}-bit: ${c.verdict}, ${c.said}`
// Enter on a cell that is chosen already makes it the want.
function pick(row: Row, cell: Cell, encoding: string, bits: number, event: MouseEvent) {
  const byKey = event.detail === 0
  if (byKey && isChosen(row, cell)) emit('want', { mode: row.mode, encoding, bits })
  else emit('choose', { mode: row.mode, encoding, bits })
}
function move(event: KeyboardEvent) {
  const keys: Record<string, [number, number]> = {
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
  }
  const by = keys[event.key]
  const cell = (event.target as HTMLElement).closest('td')
  const line = cell?.parentElement as HTMLTableRowElement | null
  if (!by || !cell || !line) return
  event.preventDefault()
  const body = line.parentElement as HTMLTableSectionElement
  const next = body.rows[line.sectionRowIndex + by[0]]?.cells[cell.cellIndex + by[1]]
  next?.querySelector('button')?.focus()
}
</script>

<template>
  <table class="carry" @keydown="move">
    <thead>
      <tr>
        <th scope="col">mode</th>
        <th v-for="c in columns" :key="c.encoding + c.bits" scope="col">
          {{ c.name }}<br />{{ c.bits }}-bit
        </th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="r in rows" :key="r.mode">
        <th scope="row" :class="{ wanted: r.wanted }">
          {{ r.width }}×{{ r.height }} <b>{{ r.hz }}</b> <span class="quiet small">{{ r.family }}</span>
          <span v-if="r.wanted" class="mark">wanted</span>
        </th>
        <td
          v-for="c in columns"
          :key="c.encoding + c.bits"
          :data-column="`${c.name}, ${c.bits}-bit`"
          :class="[r.cells[c.at]?.stopped_by, { on: isChosen(r, r.cells[c.at] as Cell) }]"
        >
          <button
            :aria-label="label(r, r.cells[c.at] as Cell, c.name)"
            :aria-pressed="isChosen(r, r.cells[c.at] as Cell)"
            @click="pick(r, r.cells[c.at] as Cell, c.encoding, c.bits, $event)"
          >
            <VerdictIcon :verdict="(r.cells[c.at] as Cell).verdict" />
            <span class="fig">{{ r.cells[c.at]?.text }}</span>
          </button>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.carry {
  border-collapse: collapse;
  width: 100%;
  background: var(--plate);
  border: 1px solid var(--rule-strong);
}
thead th {
  font-size: 13px;
  font-weight: 650;
  color: var(--ink-2);
  padding: 5px 8px;
  border-bottom: 1px solid var(--rule-strong);
  border-left: 1px solid var(--rule);
}
thead th:first-child {
  text-align: left;
  border-left: 0;
}
tbody th {
  text-align: left;
  font-weight: 400;
  padding: 0 10px;
  white-space: nowrap;
  border-bottom: 1px solid var(--rule);
}
tbody th.wanted {
  box-shadow: inset 3px 0 var(--signal);
}
.mark {
  font-size: 13px;
  color: var(--signal);
  font-weight: 600;
  margin-left: 4px;
}
td {
  border: 1px solid var(--rule);
  padding: 0;
  height: 30px;
}
td button {
  width: 100%;
  height: 100%;
  min-height: 30px;
  border: 0;
  border-radius: 0;
  background: none;
  display: flex;
  gap: 8px;
  align-items: center;
  justify-content: center;
  font-weight: 400;
  padding: 2px 6px;
}
td button:hover {
  background: var(--signal-soft);
}
td button:focus-visible {
  outline-offset: -2px;
}
td.on {
  outline: 3px solid var(--signal);
  outline-offset: -2px;
  background: var(--signal-soft);
}
td.on .fig {
  font-weight: 600;
}
td.not_offered {
  background: repeating-linear-gradient(135deg, var(--rule) 0 1px, transparent 1px 7px);
}
td.not_offered .fig {
  font-family: var(--body);
  font-size: 13px;
  color: var(--ink-2);
}
@media (max-width: 1000px) {
  tbody th,
  thead th {
    padding: 2px 6px;
  }
  tbody th .small {
    display: none;
  }
  td button {
    gap: 4px;
    padding: 2px 3px;
    font-size: 13px;
  }
  td.not_offered .fig {
    font-size: 12px;
  }
}
@media (max-width: 760px) {
  /* a mode, and below it its cells, each with its encoding */
  thead {
    display: none;
  }
  .carry,
  tbody,
  tbody th {
    display: block;
    overflow: visible;
  }
  tbody th {
    padding: 6px 8px;
  }
  tbody tr {
    display: grid;
    grid-template-columns: repeat(3, minmax(0, 1fr));
  }
  tbody th {
    grid-column: 1 / -1;
  }
  td {
    height: auto;
    display: grid;
  }
  td button {
    height: auto;
  }
  td::before {
    content: attr(data-column);
    display: block;
    font-size: 12px;
    color: var(--ink-2);
    padding: 2px 4px 0;
  }
}
@media (pointer: coarse) {
  td button {
    min-height: 44px;
  }
}
</style>
