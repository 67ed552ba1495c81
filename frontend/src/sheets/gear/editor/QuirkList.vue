<script setup lang="ts">
// What the box does besides the plain, as sentences built from choices.
import { idOf, type ConditionPart, type Draft, type GearWords, type QuirkPart } from './draft'
import VideoFields from './VideoFields.vue'

defineProps<{ words: GearWords }>()
const draft = defineModel<Draft>('draft', { required: true })
const SEVERAL = '*'
const OF_SETTING = ['requires', 'excludes', 'forces', 'inert', 'resets']
const UNCONDITIONAL = ['remembers', 'resets', 'update']
const list = () => (draft.value.quirks ??= [])
const value = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value
const settings = () => draft.value.settings ?? []
const optionsOf = (id: unknown) => settings().find((s) => s.id === id)?.options ?? []

function add() {
  list().push({
    id: idOf(
      'quirk',
      list().map((q) => q.id),
    ),
    kind: 'limits',
    because: '',
    limits: {},
  })
}
function setKind(q: QuirkPart, kind: string) {
  const first = settings()[0]
  for (const key of [
    'limits',
    'setting',
    'options',
    'to',
    'reads',
    'by',
    'place',
    'says',
    'adds_ms',
    'keeps_percent',
    'settings',
    'resets',
    'ports',
  ])
    Reflect.deleteProperty(q, key)
  q.kind = kind
  const when = q.when ?? { setting: first?.id ?? '', is: first?.options?.[0]?.id ?? '' }
  if (kind === 'limits') q.limits = {}
  if (OF_SETTING.includes(kind)) Object.assign(q, { setting: first?.id ?? '', when })
  if (kind === 'forces') q.to = first?.options?.[0]?.id ?? ''
  if (kind === 'remembers') q.by = ['input']
  if (UNCONDITIONAL.includes(kind)) Reflect.deleteProperty(q, 'when')
  if (kind === 'shows') Object.assign(q, { place: 'banner', says: '{mode}' })
  if (kind === 'lag') q.adds_ms = 1
  if (kind === 'dims') q.keeps_percent = 50
}
// The plain forms of a condition can be built here; others are kept as they were written.
function form(when: ConditionPart | undefined): string {
  if (!when) return 'always'
  if ('setting' in when && 'is' in when) return 'setting'
  const signal = when.signal as Record<string, unknown> | undefined
  if (signal && Object.keys(signal).length === 1 && 'min_hz' in signal) return 'fast'
  if (signal && Object.keys(signal).length === 1 && 'hdr' in signal) return 'hdr'
  return 'other'
}
function setForm(q: QuirkPart, kind: string) {
  const first = settings()[0]
  if (kind === 'always') Reflect.deleteProperty(q, 'when')
  if (kind === 'setting') q.when = { setting: first?.id ?? '', is: first?.options?.[0]?.id ?? '' }
  if (kind === 'fast') q.when = { signal: { min_hz: 61 } }
  if (kind === 'hdr') q.when = { signal: { hdr: true } }
}
function whenSetting(q: QuirkPart, id: string) {
  q.when = { setting: id, is: optionsOf(id)[0]?.id ?? '' }
}
function setLimit(q: QuirkPart, field: string, limit: unknown) {
  const limits = { ...(q.limits as Record<string, unknown>) }
  if (limit === undefined) Reflect.deleteProperty(limits, field)
  else limits[field] = limit
  q.limits = limits
}
function setPorts(q: QuirkPart, event: Event) {
  const id = value(event)
  if (id === '') Reflect.deleteProperty(q, 'ports')
  else if (id !== SEVERAL) q.ports = [id]
}
function setFirmware(q: QuirkPart, end: 'from' | 'below', event: Event) {
  const text = value(event).trim()
  const range: Range = { ...firmwareOf(q), [end]: text || undefined }
  if (range.from || range.below) q.firmware = range
  else Reflect.deleteProperty(q, 'firmware')
}
function stored(q: QuirkPart, id: string, on: boolean) {
  const by = (q.by as string[]).filter((b) => b !== id)
  q.by = on ? [...by, id] : by
}
function listed(q: QuirkPart, field: 'settings' | 'resets', id: string, on: boolean) {
  const left = ((q[field] as string[] | undefined) ?? []).filter((r) => r !== id)
  const next = on ? [...left, id] : left
  if (next.length) q[field] = next
  else Reflect.deleteProperty(q, field)
}
type Range = { from?: string; below?: string }
const firmwareOf = (q: QuirkPart) => (q.firmware as Range | undefined) ?? {}
const portsOf = (q: QuirkPart) => (q.ports as string[] | undefined) ?? []
const portOf = (q: QuirkPart) => (portsOf(q).length > 1 ? SEVERAL : (portsOf(q)[0] ?? ''))
const named = (q: QuirkPart) => String(q.setting ?? '')
</script>

<template>
  <section aria-label="Quirks">
    <h2>What it does besides</h2>
    <article v-for="(q, n) in draft.quirks ?? []" :key="q.id">
      <p class="sentence">
        <template v-if="OF_SETTING.includes(q.kind)">
          <select
            :aria-label="`Setting of quirk ${n + 1}`"
            :value="named(q)"
            @change="q.setting = value($event)"
          >
            <option v-for="s in draft.settings ?? []" :key="s.id" :value="s.id">{{ s.label }}</option>
          </select>
        </template>
        <span v-else-if="q.kind === 'limits'"
          >At the
          <select :aria-label="`Sockets of quirk ${n + 1}`" :value="portOf(q)" @change="setPorts(q, $event)">
            <option value="">whole box</option>
            <option v-if="portsOf(q).length > 1" :value="SEVERAL">{{ portsOf(q).length }} sockets</option>
            <option v-for="p in draft.ports" :key="p.id" :value="p.id">{{ p.label }}</option>
          </select>
        </span>
        <span v-else>The box</span>
        <select :aria-label="`Kind of quirk ${n + 1}`" :value="q.kind" @change="setKind(q, value($event))">
          <option v-for="k in words.quirk_kinds" :key="k.id" :value="k.id">{{ k.name }}</option>
        </select>
        <template v-if="q.kind === 'forces'">
          to
          <select :aria-label="`Value of quirk ${n + 1}`" :value="q.to" @change="q.to = value($event)">
            <option v-for="o in optionsOf(q.setting)" :key="o.id" :value="o.id">{{ o.label }}</option>
          </select>
        </template>
        <template v-if="q.kind === 'lag'">
          of
          <input
            class="short"
            :aria-label="`Milliseconds of quirk ${n + 1}`"
            :value="q.adds_ms"
            @change="q.adds_ms = Number(value($event))"
          />
          ms
        </template>
        <template v-if="q.kind === 'dims'">
          to
          <input
            class="short"
            :aria-label="`Percent of quirk ${n + 1}`"
            :value="q.keeps_percent"
            @change="q.keeps_percent = Number(value($event))"
          />
          % of its light
        </template>
        <template v-if="q.kind === 'shows'">
          (<input
            :aria-label="`Place of quirk ${n + 1}`"
            :value="q.place"
            @change="q.place = value($event)"
          />) “<input
            :aria-label="`Words of quirk ${n + 1}`"
            :value="q.says"
            @change="q.says = value($event)"
          />”,
          <select
            :aria-label="`Trust of quirk ${n + 1}`"
            :value="q.trust === false ? 'no' : 'yes'"
            @change="q.trust = value($event) === 'yes'"
          >
            <option value="yes">to be trusted</option>
            <option value="no">not to be trusted</option>
          </select>
          written by
          <select
            :aria-label="`Writer of quirk ${n + 1}`"
            :value="q.writer ?? 'box'"
            @change="q.writer = value($event)"
          >
            <option value="box">the box itself</option>
            <option value="source">the source</option>
            <option value="title">the title</option>
          </select>
          counting
          <select
            :aria-label="`Count of quirk ${n + 1}`"
            :value="q.counts ?? 'signal'"
            @change="q.counts = value($event)"
          >
            <option value="signal">the signal</option>
            <option value="rendered">what is rendered</option>
            <option value="told">what it was told may be sent</option>
          </select>
        </template>
        <template v-if="q.kind === 'remembers'">
          <label v-for="b in words.stored_by" :key="b.id" class="tick"
            ><input
              type="checkbox"
              :checked="(q.by as string[]).includes(b.id)"
              @change="stored(q, b.id, ($event.target as HTMLInputElement).checked)"
            />
            {{ b.name }}</label
          >
        </template>
        <template v-else-if="q.kind === 'update'">
          :
          <label v-for="s in settings()" :key="s.id" class="tick"
            ><input
              type="checkbox"
              :checked="(q.settings as string[] | undefined)?.includes(s.id)"
              @change="listed(q, 'settings', s.id, ($event.target as HTMLInputElement).checked)"
            />
            {{ s.label }}</label
          >
          <span class="quiet small">none ticked: all of them</span>
        </template>
        <template v-else-if="q.kind === 'resets'">
          :
          <label v-for="s in settings().filter((o) => o.id !== q.setting)" :key="s.id" class="tick"
            ><input
              type="checkbox"
              :checked="(q.resets as string[] | undefined)?.includes(s.id)"
              @change="listed(q, 'resets', s.id, ($event.target as HTMLInputElement).checked)"
            />
            {{ s.label }}</label
          >
          <span class="quiet small">none ticked: all that are kept by more than the input</span>
        </template>
        <template v-else>
          <select
            :aria-label="`When, quirk ${n + 1}`"
            :value="form(q.when)"
            @change="setForm(q, value($event))"
          >
            <option v-if="!OF_SETTING.includes(q.kind)" value="always">always</option>
            <option value="setting">
              {{ OF_SETTING.includes(q.kind) ? 'the setting' : 'while the setting' }}
            </option>
            <option value="fast">
              {{ OF_SETTING.includes(q.kind) ? 'the signal is' : 'while the signal is' }} faster
            </option>
            <option value="hdr">{{ OF_SETTING.includes(q.kind) ? 'HDR runs' : 'while HDR runs' }}</option>
            <option v-if="form(q.when) === 'other'" value="other">as written in its file</option>
          </select>
          <template v-if="form(q.when) === 'setting'">
            <select
              :aria-label="`Which setting, quirk ${n + 1}`"
              :value="q.when?.setting"
              @change="whenSetting(q, value($event))"
            >
              <option v-for="s in draft.settings ?? []" :key="s.id" :value="s.id">{{ s.label }}</option>
            </select>
            is at
            <select
              :aria-label="`Which option, quirk ${n + 1}`"
              :value="q.when?.is"
              @change="q.when = { setting: q.when?.setting, is: value($event) }"
            >
              <option v-for="o in optionsOf(q.when?.setting)" :key="o.id" :value="o.id">{{ o.label }}</option>
            </select>
          </template>
          <template v-if="form(q.when) === 'fast'">
            : from
            <input
              class="short"
              :aria-label="`Hz, quirk ${n + 1}`"
              :value="(q.when?.signal as { min_hz: number }).min_hz"
              @change="q.when = { signal: { min_hz: Number(value($event)) } }"
            />
            Hz on
          </template>
        </template>
        <button class="slight" @click="draft.quirks?.splice(n, 1)">
          Take out<span class="sr"> quirk {{ n + 1 }}</span>
        </button>
      </p>
      <VideoFields
        v-if="q.kind === 'limits'"
        :id="`limit-${n}`"
        :video="q.limits as Record<string, unknown>"
        :words="words"
        empty="no less"
        :only="['tmds_mhz', 'frl', 'dp', 'hdr', 'vrr', 'modes', 'encodings']"
        @set="(field, limit) => setLimit(q, field, limit)"
      />
      <p class="why">
        <span
          ><label :for="`why-${n}`">because</label>
          <input :id="`why-${n}`" :value="q.because" maxlength="160" @change="q.because = value($event)"
        /></span>
        <span
          ><label :for="`from-${n}`">from firmware</label>
          <input
            :id="`from-${n}`"
            class="short"
            :value="firmwareOf(q).from ?? ''"
            placeholder="any"
            @change="setFirmware(q, 'from', $event)"
        /></span>
        <span
          ><label :for="`fw-${n}`">until firmware</label>
          <input
            :id="`fw-${n}`"
            class="short"
            :value="firmwareOf(q).below ?? ''"
            placeholder="any"
            @change="setFirmware(q, 'below', $event)"
        /></span>
        <label class="tick"
          ><input
            type="checkbox"
            :checked="q.comes_and_goes === true"
            @change="q.comes_and_goes = ($event.target as HTMLInputElement).checked"
          />
          comes and goes</label
        >
      </p>
    </article>
    <button class="small" @click="add">+ what it does</button>
  </section>
</template>

<style scoped>
article {
  padding: 8px 0;
  border-bottom: 1px solid var(--rule);
  display: grid;
  gap: 6px;
}
.sentence,
.why {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 7px;
  align-items: center;
}
.why span {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.why span:first-child {
  flex: 1 1 280px;
}
.why span:first-child input {
  flex: 1;
  min-width: 0;
}
.short {
  width: 76px;
}
.tick {
  display: inline-flex;
  gap: 5px;
  align-items: center;
}
section > button {
  margin-top: 6px;
}
</style>
