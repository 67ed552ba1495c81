<script setup lang="ts">
// One box at a version: the list of looks with their answers, what is known, what rests on the version before.
import { computed } from 'vue'

import type { Recheck } from '../../api/client'
import { mayEdit } from '../../shared/session'
import LookRow from './LookRow.vue'
import { useLooks } from './useLooks'

const props = defineProps<{ told: Recheck }>()
const { answer } = useLooks(() => props.told)
const placeOf = (v: { scope: string; setting: string }) => `${v.scope}|${v.setting}`
const back = computed(() => props.told.values.filter((v) => v.outcome === 'came_back'))
const presumed = computed(() => props.told.values.filter((v) => v.outcome === 'presumed'))
const stayed = computed(() => props.told.values.filter((v) => v.outcome === 'stayed'))
const risky = computed(() =>
  [...new Map(props.told.values.map((v) => [v.setting, v])).values()].sort((a, b) => b.percent - a.percent),
)
const of = (values: string[]) => props.told.values.filter((v) => values.includes(placeOf(v)))
const steps = (n: number) => (n === 1 ? '1 look' : `${n} looks`)
</script>

<template>
  <p v-if="told.done" class="done">
    <b>Looked over.</b> Every look of the list is made; what nobody looked at is told below.
  </p>
  <p v-else-if="told.steps.length" class="sum">
    <b>{{ steps(told.steps.length) }}, about {{ told.minutes }} min</b>
    <span class="quiet">
      instead of {{ told.full }} of a full re-check; beside each, how much of the risk is then covered</span
    >
  </p>
  <p v-else-if="!told.values.length" class="quiet">
    Nothing is known to stand otherwise than the factory has it: nothing can be seen to have come back.
  </p>
  <ol v-if="told.steps.length" class="looks">
    <LookRow
      v-for="(s, n) in told.steps"
      :key="s.key"
      :look="s"
      :values="of(s.values)"
      :first="n === 0"
      :answers="told.installed && mayEdit()"
      @answer="(outcome, came) => answer(s.key, outcome, came)"
    />
  </ol>
  <p v-if="told.unseen" class="small quiet">
    {{ told.unseen }} planned values were never seen on it: the
    <RouterLink to="runsheet">run sheet</RouterLink> has them.
  </p>
  <div v-if="back.length" class="back">
    <h3>Came back</h3>
    <ul>
      <li v-for="v in back" :key="placeOf(v)">
        {{ v.cell ? `${v.cell}: ` : '' }}<b>{{ v.label }}</b> stood at {{ v.stood }}, found at {{ v.now }}
      </li>
    </ul>
    <p v-if="presumed.length" class="small">
      Taken to have come back with {{ back.length === 1 ? 'it' : 'them' }}, nobody has looked:
      {{ presumed.map((v) => (v.cell ? `${v.label} (${v.cell})` : v.label)).join(', ') }}.
    </p>
    <p class="small"><RouterLink to="runsheet">The run sheet sets them again.</RouterLink></p>
  </div>
  <p v-if="stayed.length" class="small quiet">
    Stayed, as far as was looked: {{ [...new Set(stayed.map((v) => v.label))].join(', ') }}.
  </p>
  <ul v-if="told.known.length" class="known" aria-label="Known of this version">
    <li v-for="k in told.known" :key="k.words">
      {{ k.words }} <span class="quiet small">{{ k.source }}</span>
    </li>
  </ul>
  <p v-if="told.resting.length" class="resting">
    On the older version rest:
    <template v-for="(r, n) in told.resting" :key="r.words"
      >{{ n ? ', ' : '' }}<RouterLink :to="r.sheet">{{ r.count }} {{ r.words }}</RouterLink></template
    >.
  </p>
  <details v-if="risky.length">
    <summary>How likely each is, and why</summary>
    <table class="plain">
      <thead>
        <tr>
          <th>setting</th>
          <th>likely</th>
          <th>why</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="v in risky" :key="v.setting">
          <td>{{ v.label }}: {{ v.stood }}, the factory has {{ v.back }}</td>
          <td class="fig">{{ v.percent }} %</td>
          <td>
            {{ v.why }} <span class="quiet small">{{ v.source }}</span>
          </td>
        </tr>
      </tbody>
    </table>
  </details>
</template>

<style scoped>
.looks {
  list-style: none;
  margin: 6px 0;
  padding: 0;
}
.back {
  border-left: 4px solid var(--blocked);
  padding-left: 12px;
  margin: 8px 0;
}
.done {
  border-left: 4px solid var(--fits);
  padding-left: 12px;
}
.sum {
  font-size: 16px;
}
</style>
