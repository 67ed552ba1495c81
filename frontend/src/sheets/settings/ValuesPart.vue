<script setup lang="ts">
// What each box keeps, cell by cell: what differs first, what is alike once; typed in place, copied cell to cell.
import { computed, ref, watch } from 'vue'

import { api, ask, type GridRow, type Op } from '../../api/client'
import { useJobAnswer } from '../../shared/answers'
import { useJob } from '../../shared/job'
import PickRow from '../../shared/PickRow.vue'
import PickList from '../../shared/PickList.vue'
import { mayEdit } from '../../shared/session'
import CopyCell from './CopyCell.vue'
import ValueCell from './ValueCell.vue'

type LayerName = 'plan' | 'found'
const job = useJob()
const { data: boxes, error } = useJobAnswer('values', (path) =>
  ask(api.GET('/api/v1/jobs/{job_uid}/values', { params: { path } })),
)
const picked = ref('')
const layer = ref<LayerName>('plan')
// the screen of the run in hand first, then what tells most apart
const own = (device: string) => Number(device === job.run?.sink)
const list = computed(() =>
  [...(boxes.value ?? [])].sort(
    (a, b) => own(b.device) - own(a.device) || b.columns.length - a.columns.length,
  ),
)
const box = computed(() => list.value.find((b) => b.device === picked.value) ?? list.value[0])
watch(
  () => job.view?.uid,
  () => (picked.value = ''),
)
const differing = computed(() => box.value?.rows.filter((r) => !r.alike) ?? [])
const alike = computed(() => box.value?.rows.filter((r) => r.alike) ?? [])
const kept = (r: GridRow) => r.cells.filter((c) => c !== null)
const scopes = (r: GridRow) => [...new Set(kept(r).map((c) => c.scope))]
const LAYERS: { id: LayerName; name: string }[] = [
  { id: 'plan', name: 'to be set' },
  { id: 'found', name: 'seen there' },
]

function set(r: GridRow, places: string[], value: string | null, words: string) {
  const b = box.value
  if (!b) return
  const ops = places.map<Op>((scope) => ({
    op: 'set_setting',
    layer: layer.value,
    device: b.device,
    scope,
    key: r.key,
    value,
  }))
  const where =
    places.length > 1
      ? b.label
      : `${b.label}, ${b.columns[r.cells.findIndex((c) => c?.scope === places[0])]?.words}`
  void job.change(
    ops,
    `${where}: ${r.label} ${layer.value === 'plan' ? 'to' : 'found'} ${words || 'nothing'}`,
  )
}
</script>

<template>
  <p v-if="error" class="attn">{{ error.message }}</p>
  <p v-else-if="!boxes" class="quiet" role="status">Reading what is kept where…</p>
  <p v-else-if="!box" class="empty">
    <b>Nothing is kept apart yet.</b> A box with settings that a run passes stands here, a column for every
    input, range and preset it is met in.
  </p>
  <section v-else :aria-label="`Values of ${box.label}`">
    <div class="row top">
      <PickList
        id="value-box"
        label="Box"
        :list="list.map((b) => ({ id: b.device, name: b.label }))"
        :value="box.device"
        @pick="picked = $event"
      />
      <PickRow label="Which values are typed" :list="LAYERS" :on="[layer]" @pick="layer = $event" />
      <p class="small quiet">
        {{ box.profile }} keeps values by {{ box.kept_by.join(', ') || 'the whole box' }}.
      </p>
    </div>
    <div class="wide">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">setting</th>
            <th v-for="c in box.columns" :key="c.scope" scope="col">
              <span v-for="(w, n) in c.at.filter(Boolean)" :key="n" class="at">{{ w }}</span>
              <span v-if="!c.at.length" class="at">the whole box</span>
              <small v-if="c.runs.length">{{ c.runs.join(', ') }}</small>
              <small v-else>noted, met by no run</small>
            </th>
          </tr>
        </thead>
        <tbody v-if="differing.length">
          <tr v-for="r in differing" :key="r.key" :class="{ apart: r.cells.length > 1 }">
            <th scope="row" :title="r.where">
              {{ r.label }}<small>{{ r.where }}</small>
            </th>
            <td v-for="(c, n) in r.cells" :key="n">
              <ValueCell
                v-if="c"
                :row="r"
                :cell="c"
                :layer="layer"
                :name="`${r.label}, ${box.columns[n]?.words}`"
                :disabled="!mayEdit()"
                @set="(value, words) => set(r, [c.scope], value, words)"
              />
              <span v-else class="quiet" title="not kept here">–</span>
            </td>
          </tr>
        </tbody>
        <tbody v-if="alike.length" class="once">
          <tr v-if="differing.length">
            <th :colspan="box.columns.length + 1" class="part" scope="colgroup">the same in every cell</th>
          </tr>
          <tr v-for="r in alike" :key="r.key">
            <th scope="row" :title="r.where">
              {{ r.label }}<small>{{ r.where }}</small>
            </th>
            <td :colspan="box.columns.length">
              <span class="one">
                <ValueCell
                  v-if="kept(r)[0]"
                  :row="r"
                  :cell="kept(r)[0]!"
                  :layer="layer"
                  :name="`${r.label}, in all cells`"
                  :disabled="!mayEdit()"
                  @set="(value, words) => set(r, scopes(r), value, words)"
                />
                <span class="small quiet">{{ r.kept_by }}</span>
                <details v-if="scopes(r).length > 1 && mayEdit()">
                  <summary class="small">set one apart</summary>
                  <span class="row">
                    <label v-for="(c, n) in r.cells" v-show="c" :key="n" class="small">
                      {{ box.columns[n]?.words }}
                      <ValueCell
                        v-if="c"
                        :row="r"
                        :cell="c"
                        :layer="layer"
                        :name="`${r.label}, ${box.columns[n]?.words}`"
                        @set="(value, words) => set(r, [c.scope], value, words)"
                      />
                    </label>
                  </span>
                </details>
              </span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <CopyCell
      v-if="mayEdit() && (box.columns.length > 1 || box.sisters.length)"
      :key="box.device"
      :box="box"
    />
  </section>
</template>

<style scoped>
.top {
  gap: 14px;
  align-items: end;
  margin-bottom: 8px;
}
.wide {
  overflow-x: auto;
  max-width: 100%;
}
table {
  width: auto;
  min-width: min(100%, 620px);
}
thead th {
  vertical-align: bottom;
}
.at {
  display: block;
  color: var(--ink);
  line-height: 1.25;
}
.at {
  font-weight: 400;
}
.at:first-child {
  font-weight: 650;
}
th small,
tbody th small {
  display: block;
  font-weight: 400;
  color: var(--ink-2);
  font-size: 12px;
}
table.plain tbody th,
table.plain tbody td {
  padding-block: 4px;
}
tbody th {
  border-bottom: 1px solid var(--rule);
  color: var(--ink);
  min-width: 150px;
}
tbody .part {
  background: var(--paper);
  color: var(--ink-2);
  font-weight: 400;
}
.apart th {
  box-shadow: inset 3px 0 0 var(--signal);
}
.one {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
}
.one :deep(.value) {
  display: inline-flex;
  gap: 8px;
  align-items: center;
}
summary {
  cursor: pointer;
  color: var(--signal);
}
label {
  display: grid;
}
</style>
