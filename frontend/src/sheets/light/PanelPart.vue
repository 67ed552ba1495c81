<script setup lang="ts">
// The panel: care of a self-lit one, overdrive at the rates played, choices with what was seen.
import { ref } from 'vue'

import type { LightCell, LightNote, LightScreen } from '../../api/client'
import { useJob } from '../../shared/job'
import { mayEdit } from '../../shared/session'
import { shortTime } from '../../shared/words'
import OverdriveTable from './OverdriveTable.vue'
import { usedLight } from './useLight'
import { figure, noteOf } from './words'

const props = defineProps<{ light: LightScreen; cell: LightCell | null }>()
const { note, drop } = usedLight()
const job = useJob()
const hours = ref('')
const title = ref('')
const week = ref('')
const still = ref('10')
const texts = ref<Record<string, string>>({})
const picks = ref<Record<string, string>>({})
const made = (kind: LightNote['kind'], value: string, figures: Record<string, number>, text = '') =>
  noteOf(kind, props.light.device, { value, figures, text, method: kind === 'choice' ? 'eye' : 'typed' })
function keepHours() {
  const n = Math.round(figure(hours.value))
  if (hours.value && n >= 0)
    void note([made('hours', '', { hours: n })], `${n} hours noted.`).then(() => (hours.value = ''))
}
function keepPlayed() {
  const minutes = Math.round(figure(week.value) * 60)
  const share = Math.round(figure(still.value))
  if (!title.value || !(minutes >= 0) || !(share >= 0)) return
  void note([made('played', title.value, { minutes_week: minutes, still_percent: share })], 'Noted.')
}
function keepSeen(setting: string) {
  const value = picks.value[setting]
  const text = texts.value[setting]?.trim()
  if (!value || !text) return
  void note([made('choice', `${setting}=${value}`, {}, text)], 'Noted.').then(
    () => (texts.value[setting] = ''),
  )
}
</script>

<template>
  <section v-if="light.care.self_lit" aria-label="Care of a self-lit screen">
    <h2>Self-lit: what stands still wears it</h2>
    <p v-if="light.care.grade">
      Load a week: <b>{{ light.care.grade }}</b>.
    </p>
    <p class="small quiet">{{ light.care.rule }}.</p>
    <p class="caution small">
      Static images at high brightness can burn in for good. This is care, no promise.
    </p>
    <table v-if="light.care.titles.length" class="plain small">
      <thead>
        <tr>
          <th scope="col">Title</th>
          <th scope="col">Hours a week</th>
          <th scope="col">Stands still</th>
          <th scope="col">Light</th>
          <th scope="col">Load</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="t in light.care.titles" :key="t.title">
          <td>{{ t.title }}</td>
          <td class="fig">{{ t.hours }}</td>
          <td class="fig">{{ t.still }} %</td>
          <td>{{ t.light }}</td>
          <td class="fig">{{ t.load }}</td>
        </tr>
      </tbody>
    </table>
    <form v-if="mayEdit() && job.shown?.titles.length" class="row" @submit.prevent="keepPlayed">
      <select v-model="title" aria-label="Title">
        <option value="">a title</option>
        <option v-for="t in job.shown.titles" :key="t.uid" :value="t.uid">{{ t.name }}</option>
      </select>
      <label class="row">hours a week <input v-model="week" class="short fig" inputmode="decimal" /></label>
      <label class="row"
        >of the picture still, % <input v-model="still" class="short fig" inputmode="numeric"
      /></label>
      <button class="slight">Note</button>
    </form>
    <h2>What eases it</h2>
    <ul class="small">
      <li v-for="e in light.care.eases" :key="e.what">
        <b>{{ e.what }}</b>. Costs {{ e.costs }}.
      </li>
    </ul>
    <form v-if="mayEdit()" class="row" @submit.prevent="keepHours">
      <label class="row"
        >Hours, as its own page says <input v-model="hours" class="short fig" inputmode="numeric"
      /></label>
      <button class="slight">Note</button>
      <span v-for="h in light.care.hours" :key="h.uid" class="small quiet">
        {{ h.hours }} h on {{ shortTime(h.at ?? '') }}
      </span>
    </form>
  </section>
  <OverdriveTable :light="light" />
  <section v-if="light.choices.length" aria-label="Choices of light and shade">
    <h2>Choices, with what was seen</h2>
    <div v-for="c in light.choices" :key="c.setting" class="choice">
      <p>
        <b>{{ c.label }}</b><template v-if="c.value">, stands at {{ c.value }}</template
        >: {{ c.does }}<template v-if="c.figures">; {{ c.figures }}</template
        >.
      </p>
      <p v-for="s in c.seen" :key="s.uid" class="small">
        At {{ s.value }}: “{{ s.text }}” <span class="quiet">{{ shortTime(s.at ?? '') }}</span>
        <button v-if="mayEdit()" class="plain small" @click="drop(s.uid ?? '')">take out</button>
      </p>
      <form v-if="mayEdit()" class="row" @submit.prevent="keepSeen(c.setting)">
        <select v-if="c.options.length" v-model="picks[c.setting]" :aria-label="`${c.label} at`">
          <option v-for="o in c.options" :key="o.id" :value="o.id">{{ o.label }}</option>
        </select>
        <input v-else v-model="picks[c.setting]" class="short fig" :aria-label="`${c.label} at`" />
        <input
          v-model="texts[c.setting]"
          :aria-label="`Seen with ${c.label}`"
          placeholder="what was seen"
          maxlength="200"
        />
        <button class="slight">Note</button>
      </form>
    </div>
  </section>
</template>

<style scoped>
section {
  margin-bottom: 18px;
}
.short {
  width: 72px;
}
.row {
  flex-wrap: wrap;
  gap: 6px 10px;
}
.caution {
  border-left: 4px solid var(--tight);
  background: var(--tight-soft);
  padding: 5px 10px;
  margin: 6px 0;
}
.choice {
  border-top: 1px solid var(--rule);
  padding: 6px 0;
}
h2 {
  margin-top: 8px;
}
</style>
