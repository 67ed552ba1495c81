<script setup lang="ts">
// One look: where, what stood there, and what is to be seen now: as before, or otherwise.
import { reactive, ref } from 'vue'

import type { AtRisk, Look } from '../../api/client'

const props = defineProps<{ look: Look; values: AtRisk[]; first: boolean; answers: boolean }>()
const emit = defineEmits<{
  answer: [
    outcome: 'stays' | 'differs' | 'came_back',
    back: { scope: string; setting: string; value: string }[],
  ]
}>()
const sentenceCase = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)
const telling = ref(false)
const now = reactive<Record<string, string>>({})
const place = (v: AtRisk) => `${v.scope}|${v.setting}`
const came = () =>
  props.values
    .filter((v) => (now[place(v)] ?? '').trim())
    .map((v) => ({ scope: v.scope, setting: v.setting, value: now[place(v)]!.trim() }))
function tell() {
  if (props.look.kind === 'card') return emit('answer', 'differs', [])
  telling.value = true
  for (const v of props.values) if (props.values.length === 1) now[place(v)] ??= v.back_value
}
</script>

<template>
  <li :class="{ first }" :data-key="look.key">
    <p class="head">
      <b>{{ sentenceCase(look.title) }}</b>
      <span v-if="look.cell" class="quiet">{{ look.kind === 'card' ? `on ${look.cell}` : look.cell }}</span>
    </p>
    <p v-if="look.kind === 'card'" class="lines">
      It read: {{ look.lines.map((l) => `${l.label} ${l.says}`).join(', ') }}.
      <span class="quiet small">It tells of {{ values.map((v) => v.label).join(', ') }}.</span>
    </p>
    <p v-else class="lines">
      <template v-for="(v, n) in values" :key="place(v)"
        >{{ n ? ', ' : '' }}{{ v.label }} <b>{{ v.stood }}</b></template
      >
    </p>
    <span class="fig small" :title="`${look.covered_percent} % of all risk is covered once this is done`"
      >{{ look.covered_percent }} %</span
    >
    <p v-if="answers && !telling" class="row acts">
      <button :class="{ go: first }" @click="emit('answer', 'stays', [])">As before</button>
      <button class="slight" @click="tell">
        {{ look.kind === 'card' ? 'It says something else' : 'Otherwise…' }}
      </button>
    </p>
    <form v-else-if="telling" class="telling" @submit.prevent="emit('answer', 'came_back', came())">
      <span v-for="v in values" :key="place(v)">
        <label :for="`now-${look.key}-${place(v)}`">{{ v.label }} is now</label>
        <select
          v-if="v.options.length > 1 || Number.isNaN(Number(v.stood_value))"
          :id="`now-${look.key}-${place(v)}`"
          v-model="now[place(v)]"
        >
          <option value="">{{ v.stood }}, as before</option>
          <option v-for="o in v.options" :key="o.id" :value="o.id">{{ o.label }}</option>
        </select>
        <input
          v-else
          :id="`now-${look.key}-${place(v)}`"
          v-model="now[place(v)]"
          class="short"
          :placeholder="v.stood"
          maxlength="40"
        />
      </span>
      <button type="submit" class="go" :disabled="!came().length">So it is</button>
      <button type="button" class="slight" @click="telling = false">Back</button>
    </form>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 2px 14px;
  align-items: center;
  padding: 7px 10px 8px;
  border-bottom: 1px solid var(--rule);
  border-left: 4px solid transparent;
}
li.first {
  border-left-color: var(--signal);
  background: var(--signal-soft);
}
li p.lines {
  grid-row: 2;
}
li > .fig {
  grid-row: 1 / 3;
  grid-column: 2;
  color: var(--ink-2);
}
.acts {
  grid-row: 1 / 3;
  grid-column: 3;
}
.telling {
  grid-column: 1 / -1;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  align-items: baseline;
}
.telling {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: end;
}
.telling span {
  display: grid;
  gap: 2px;
}
.short {
  width: 90px;
}
@media (max-width: 700px) {
  li {
    grid-template-columns: 1fr auto;
  }
  .acts {
    grid-row: 3;
    grid-column: 1 / -1;
  }
}
</style>
