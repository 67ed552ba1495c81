<script setup lang="ts">
// What a person can choose in the box's menus: name, options, factory value, and whether each socket keeps its own.
import { idOf, type Draft, type SettingPart } from './draft'

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
