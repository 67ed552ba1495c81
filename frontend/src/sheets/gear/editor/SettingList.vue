<script setup lang="ts">
// What a person can choose in the box's menus: name, options, factory value, and whether each socket keeps its own.
import { idOf, type Draft, type GearWords, type SettingPart } from './draft'

const props = defineProps<{ words: GearWords }>()
const FIGURES = [
  ['from', 'from'],
  ['to', 'to'],
  ['step', 'in steps of'],
  ['neutral', 'neutral at'],
  ['unit', 'unit'],
] as const
const draft = defineModel<Draft>('draft', { required: true })
const list = () => (draft.value.settings ??= [])
function add() {
  const label = 'New setting'
  list().push({
    id: idOf(
      label,
      list().map((s) => s.id),
    ),
    label,
    options: [
      { id: 'off', label: 'off' },
      { id: 'on', label: 'on' },
    ],
    default: 'off',
  })
}
const value = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value
function options(s: SettingPart, event: Event) {
  const labels = value(event)
    .split(',')
    .map((w) => w.trim())
    .filter(Boolean)
  const taken: string[] = []
  s.options = labels.map((label) => {
    const id = s.options?.find((o) => o.label === label)?.id ?? idOf(label, taken)
    taken.push(id)
    return { id, label }
  })
  settle(s)
}
// A setting of a known effect has that effect's values; those it had before keep their names.
function effect(s: SettingPart, event: Event) {
  const chosen = props.words.effects.find((e) => e.id === value(event))
  if (!chosen) {
    Reflect.deleteProperty(s, 'effect')
    return
  }
  s.effect = chosen.id
  if (!chosen.values.length) return form(s, 'number')
  form(s, 'options')
  s.options = chosen.values.map((id) => s.options?.find((o) => o.id === id) ?? { id, label: id })
  settle(s)
}
function settle(s: SettingPart) {
  if (!s.options?.some((o) => o.id === s.default)) s.default = s.options?.[0]?.id ?? ''
}
// Options, or a range of numbers.
function form(s: SettingPart, kind: string) {
  if (kind === 'number' && !s.number) {
    Reflect.deleteProperty(s, 'options')
    s.number = { from: 0, to: 100 }
    s.default = '50'
  }
  if (kind === 'options' && !s.options) {
    Reflect.deleteProperty(s, 'number')
    s.options = [
      { id: 'off', label: 'off' },
      { id: 'on', label: 'on' },
    ]
    s.default = 'off'
  }
}
// what is no number is handed on as it stands: the check says what is wrong with it
function figure(s: SettingPart, key: 'from' | 'to' | 'step' | 'neutral' | 'unit', event: Event) {
  const said = value(event).trim()
  const number = { ...(s.number ?? { from: 0, to: 100 }) }
  if (said === '' && key !== 'from' && key !== 'to') Reflect.deleteProperty(number, key)
  else
    Object.assign(number, {
      [key]: key === 'unit' || said === '' || Number.isNaN(Number(said)) ? said : Number(said),
    })
  s.number = number
}
function keptBy(s: SettingPart, id: string, on: boolean) {
  const left = (s.kept_by ?? []).filter((k) => k !== id)
  const next = on ? [...left, id] : left
  if (next.length) s.kept_by = next
  else Reflect.deleteProperty(s, 'kept_by')
  if (id === 'input' && !on) Reflect.deleteProperty(s, 'ports')
}
const isKept = (s: SettingPart, id: string) =>
  Boolean(s.kept_by?.includes(id) || (id === 'input' && s.ports?.length))
function copies(s: SettingPart, event: Event) {
  if (value(event) === 'yes') Reflect.deleteProperty(s, 'copies')
  else s.copies = value(event)
}
</script>

<template>
  <section aria-label="Settings">
    <h2>Settings</h2>
    <article v-for="(s, n) in draft.settings ?? []" :key="n">
      <span>
        <label :for="`set-${n}`">Name, in our words</label>
        <input :id="`set-${n}`" :value="s.label" maxlength="60" @change="s.label = value($event)" />
      </span>
      <span>
        <label :for="`form-${n}`">It takes</label>
        <select :id="`form-${n}`" :value="s.number ? 'number' : 'options'" @change="form(s, value($event))">
          <option value="options">one of some options</option>
          <option value="number">a number</option>
        </select>
      </span>
      <template v-if="s.number">
        <span v-for="[key, name] in FIGURES" :key="key" class="short">
          <label :for="`${key}-${n}`">{{ name }}</label>
          <input
            :id="`${key}-${n}`"
            class="fig"
            :value="s.number[key] ?? ''"
            :placeholder="key === 'step' ? '1' : key === 'neutral' ? 'not known' : ''"
            maxlength="12"
            @change="figure(s, key, $event)"
          />
        </span>
        <span class="short">
          <label :for="`def-${n}`">Leaves the factory at</label>
          <input
            :id="`def-${n}`"
            class="fig"
            :value="s.default"
            maxlength="12"
            @change="s.default = value($event).trim()"
          />
        </span>
      </template>
      <template v-else>
        <span class="wide">
          <label :for="`opt-${n}`">Options, with commas</label>
          <input
            :id="`opt-${n}`"
            :value="(s.options ?? []).map((o) => o.label).join(', ')"
            @change="options(s, $event)"
          />
        </span>
        <span>
          <label :for="`def-${n}`">Leaves the factory at</label>
          <select :id="`def-${n}`" :value="s.default" @change="s.default = value($event)">
            <option v-for="o in s.options ?? []" :key="o.id" :value="o.id">{{ o.label }}</option>
          </select>
        </span>
      </template>
      <span class="wide">
        <label :for="`where-${n}`">Where in the menu</label>
        <input :id="`where-${n}`" :value="s.where ?? ''" maxlength="160" @change="s.where = value($event)" />
      </span>
      <span>
        <label :for="`eff-${n}`">What it does</label>
        <select :id="`eff-${n}`" :value="s.effect ?? ''" @change="effect(s, $event)">
          <option value="">none of these</option>
          <option v-for="e in words.effects" :key="e.id" :value="e.id">{{ e.name }}</option>
        </select>
      </span>
      <span>
        <label :for="`copy-${n}`">Copy to a sister unit</label>
        <select :id="`copy-${n}`" :value="s.copies ?? 'yes'" @change="copies(s, $event)">
          <option v-for="c in words.copies" :key="c.id" :value="c.id">{{ c.name }}</option>
        </select>
      </span>
      <span class="row kept">
        <span class="small">Kept apart for each</span>
        <label v-for="k in words.stored_by" :key="k.id" class="tick"
          ><input
            type="checkbox"
            :checked="isKept(s, k.id)"
            @change="keptBy(s, k.id, ($event.target as HTMLInputElement).checked)"
          />
          {{ k.name }}</label
        >
        <button class="slight out" @click="draft.settings?.splice(n, 1)">
          Take out<span class="sr"> {{ s.label }}</span>
        </button>
      </span>
    </article>
    <button class="small" @click="add">+ setting</button>
  </section>
</template>

<style scoped>
article {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 4px 10px;
  align-items: end;
  padding: 6px 0 8px;
  border-bottom: 1px solid var(--rule);
}
article > span {
  display: grid;
  min-width: 0;
}
.wide {
  grid-column: span 2;
}
input:not([type='checkbox']),
select {
  width: 100%;
  min-width: 0;
}
.kept {
  display: flex !important;
  grid-column: 1 / -1;
}
.out {
  margin-left: auto;
}
.tick {
  display: flex;
  gap: 6px;
  align-items: center;
  min-height: 32px;
}
button {
  justify-self: start;
}
section > button {
  margin-top: 6px;
}
</style>
