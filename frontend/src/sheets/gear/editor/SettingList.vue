<script setup lang="ts">
// What a person can choose in the box's menus: name, options, factory value, and whether each socket keeps its own.
import { idOf, type Draft, type GearWords, type SettingPart } from './draft'

const props = defineProps<{ words: GearWords }>()
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
    const id = s.options.find((o) => o.label === label)?.id ?? idOf(label, taken)
    taken.push(id)
    return { id, label }
  })
  if (!s.options.some((o) => o.id === s.default)) s.default = s.options[0]?.id ?? ''
}
// A setting of a known effect has that effect's values; those it had before keep their names.
function effect(s: SettingPart, event: Event) {
  const chosen = props.words.effects.find((e) => e.id === value(event))
  if (!chosen) {
    Reflect.deleteProperty(s, 'effect')
    return
  }
  s.effect = chosen.id
  s.options = chosen.values.map((id) => s.options.find((o) => o.id === id) ?? { id, label: id })
  if (!s.options.some((o) => o.id === s.default)) s.default = s.options[0]?.id ?? ''
}
function copies(s: SettingPart, event: Event) {
  if (value(event) === 'yes') Reflect.deleteProperty(s, 'copies')
  else s.copies = value(event)
}
function perSocket(s: SettingPart, event: Event) {
  const inputs = draft.value.ports.filter((p) => p.direction === 'in').map((p) => p.id)
  if ((event.target as HTMLInputElement).checked) s.ports = inputs
  else Reflect.deleteProperty(s, 'ports')
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
      <span class="wide">
        <label :for="`opt-${n}`">Options, with commas</label>
        <input
          :id="`opt-${n}`"
          :value="s.options.map((o) => o.label).join(', ')"
          @change="options(s, $event)"
        />
      </span>
      <span>
        <label :for="`def-${n}`">Leaves the factory at</label>
        <select :id="`def-${n}`" :value="s.default" @change="s.default = value($event)">
          <option v-for="o in s.options" :key="o.id" :value="o.id">{{ o.label }}</option>
        </select>
      </span>
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
      <label class="tick"
        ><input type="checkbox" :checked="!!s.ports?.length" @change="perSocket(s, $event)" /> each input
        keeps its own</label
      >
      <button class="slight" @click="draft.settings?.splice(n, 1)">
        Take out<span class="sr"> {{ s.label }}</span>
      </button>
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
