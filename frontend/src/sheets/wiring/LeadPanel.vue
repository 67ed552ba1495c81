<script setup lang="ts">
// One lead: what it is certified as, how long it is, what it carries.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { api, ask } from '../../api/client'
import { mayEdit } from '../../shared/session'
import { useChoices, withValue } from '../../shared/choices'
import { useJob } from '../../shared/job'
import PickList from '../../shared/PickList.vue'
import TickBox from '../../shared/TickBox.vue'
import VerdictIcon from '../../shared/VerdictIcon.vue'

const props = defineProps<{ uid: string }>()
const emit = defineEmits<{ close: [] }>()
const job = useJob()
const lead = computed(() => job.shown?.leads.find((l) => l.uid === props.uid))
const name = (end: { device: string; port: string } | null | undefined) => {
  const device = end && job.deviceOf(end.device)
  return device
    ? `${device.label} · ${device.ports.find((p) => p.id === end.port)?.label ?? end.port}`
    : 'loose'
}
const refused = ref(0) // a refused choice is drawn anew as it stands
async function set(change: Record<string, unknown>, what: string) {
  const done = await job.change(
    [{ op: 'replace_lead', lead: props.uid, ...change }],
    `lead ${lead.value?.label ?? ''}: ${what}`,
  )
  if (!done) refused.value++
}
const choices = useChoices()
const directed = computed(() => lead.value?.build === 'active' || lead.value?.build === 'optical')
function setLength(event: Event) {
  const text = (event.target as HTMLInputElement).value.trim().replace(',', '.')
  const metres = Number(text)
  void set({ length_mm: text === '' ? null : Math.round(metres * 1000) }, 'length')
}
function setLabel(event: Event) {
  const text = (event.target as HTMLInputElement).value.trim()
  if (text) void set({ label: text }, 'label')
}
const { data: boxes } = useQuery({
  queryKey: computed(() => ['insertable', job.view?.uid, job.view?.mark, props.uid]),
  queryFn: () =>
    ask(
      api.GET('/api/v1/jobs/{job_uid}/leads/{lead_uid}/insertable', {
        params: { path: { job_uid: job.view?.uid ?? '', lead_uid: props.uid } },
      }),
    ),
  enabled: computed(() => mayEdit() && Boolean(lead.value?.a && lead.value.b)),
})
function between(event: Event) {
  const field = event.target as HTMLSelectElement
  const box = boxes.value?.find((b) => b.device === field.value)
  field.value = ''
  if (box) void job.change(box.ops, `${box.label} put into lead ${lead.value?.label ?? ''}`)
}
const hangsSo = () =>
  void job.change(
    [{ op: 'found_as_planned', lead: props.uid }],
    `lead ${lead.value?.label ?? ''} hangs as planned`,
  )
const ofKind = <T extends { kinds: string[] }>(list: T[]) =>
  list.filter((x) => x.kinds.includes(lead.value?.kind ?? 'hdmi'))
async function takeOut() {
  if (await job.change([{ op: 'remove_lead', lead: props.uid }], `lead ${lead.value?.label ?? ''} taken out`))
    emit('close')
}
</script>

<template>
  <section v-if="lead" class="float panel" :aria-label="`Lead ${lead.label}`">
    <h2>Lead {{ lead.label }}</h2>
    <p>{{ name(lead.a) }} → {{ name(lead.b) }}</p>
    <p v-if="lead.moved" class="row small">
      <span class="quiet">{{ lead.hanging }}</span>
      <button v-if="mayEdit()" class="slight" @click="hangsSo">It hangs so</button>
    </p>
    <p v-if="lead.verdict" class="row small">
      <VerdictIcon :verdict="lead.verdict" word /> <span class="fig">{{ lead.tag }}</span>
    </p>
    <p v-if="!lead.digital" class="small quiet">{{ lead.grade_name }}</p>
    <div :key="refused" class="fields">
      <PickList
        v-if="lead.digital"
        id="lead-grade"
        label="Certified as"
        :list="ofKind(choices.grades)"
        :value="lead.grade"
        :disabled="!mayEdit()"
        @pick="set({ grade: $event }, 'certification')"
      />
      <span>
        <label for="lead-length">Length, m</label>
        <input
          id="lead-length"
          inputmode="decimal"
          :value="lead.length_mm == null ? '' : lead.length_mm / 1000"
          placeholder="not measured"
          :disabled="!mayEdit()"
          @change="setLength"
        />
      </span>
      <PickList
        v-if="lead.digital"
        id="lead-build"
        label="Made as"
        :list="choices.builds"
        :value="lead.build"
        :disabled="!mayEdit()"
        @pick="set({ build: $event }, 'make')"
      />
      <PickList
        v-if="directed"
        id="lead-power"
        label="Its power"
        :list="choices.powers"
        :value="lead.power"
        :disabled="!mayEdit()"
        @pick="set({ power: $event }, 'power')"
      />
      <PickList
        v-if="lead.digital"
        id="lead-proved"
        label="Proved here to"
        none="nothing proved"
        :list="lead.proved ? withValue(ofKind(choices.rates), lead.proved) : ofKind(choices.rates)"
        :value="lead.proved ?? ''"
        :disabled="!mayEdit()"
        @pick="set({ proved: $event || null }, 'proof')"
      />
      <PickList
        v-if="lead.digital"
        id="lead-failed"
        label="Failed here at"
        none="nothing failed"
        :list="lead.failed ? withValue(ofKind(choices.rates), lead.failed) : ofKind(choices.rates)"
        :value="lead.failed ?? ''"
        :disabled="!mayEdit()"
        @pick="set({ failed: $event || null }, 'failure')"
      />
      <span v-if="mayEdit() && boxes?.length">
        <label for="lead-between">Put a box in between</label>
        <select id="lead-between" @change="between">
          <option value="">choose one…</option>
          <option v-for="b in boxes" :key="b.device" :value="b.device">{{ b.label }}</option>
        </select>
      </span>
      <span>
        <label for="lead-label">Label</label>
        <input id="lead-label" :value="lead.label" maxlength="40" :disabled="!mayEdit()" @change="setLabel" />
      </span>
    </div>
    <TickBox
      v-if="directed"
      :checked="lead.turned"
      :disabled="!mayEdit()"
      @set="set({ turned: $event }, 'direction')"
      >found plugged the wrong way round</TickBox
    >
    <p v-if="lead.digital" class="quiet small">What was proved or failed here counts more than the print.</p>
    <TickBox
      :checked="lead.mark === 'stays'"
      :disabled="!mayEdit()"
      @set="set({ mark: $event ? 'stays' : '' }, $event ? 'stays' : 'may be moved')"
      >in the wall: it must stay</TickBox
    >
    <p class="row">
      <button v-if="mayEdit()" @click="takeOut">Take out</button>
      <button @click="$emit('close')">Close <kbd>Esc</kbd></button>
    </p>
  </section>
</template>

<style scoped>
.panel {
  width: 400px;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px 10px;
  align-items: end;
  margin: 10px 0 6px;
}
.fields > * {
  min-width: 0;
  display: grid;
}
.fields input,
.fields :deep(select) {
  width: 100%;
}
</style>
