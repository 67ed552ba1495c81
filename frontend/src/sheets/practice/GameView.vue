<script setup lang="ts">
// A game: what the client says, what can be read, looked at and tried at each box with its cost, and the end of it.
import { computed, ref } from 'vue'

import type { Game } from '../../api/client'
import DebriefTable from './DebriefTable.vue'
import { clock } from './words'

const props = defineProps<{ game: Game; busy: boolean }>()
const emit = defineEmits<{ move: [key: string]; again: [] }>()
const first = ref('')
const second = ref('')
const KINDS = [
  ['read', 'Read'],
  ['look', 'Look, or do'],
  ['cure', 'Try'],
] as const
const made = computed(() => new Set(props.game.moves.map((m) => m.key)))
const two = computed(() => / two \d+$/.test(props.game.case))
const guess = () => {
  const named = [first.value, second.value].filter(Boolean)
  if (named.length) emit('move', `it is/${named.join('+')}`)
}
const copy = () => void navigator.clipboard?.writeText(props.game.case)
</script>

<template>
  <div class="game">
    <section class="state" aria-label="The case">
      <h2>{{ game.title }}</h2>
      <p class="small quiet">{{ game.path }}</p>
      <ul class="said">
        <li v-for="c in game.complaints" :key="c">“{{ c }}”</li>
      </ul>
      <p class="clock">
        <b class="fig">{{ clock(game.seconds) }}</b> spent;
        <span class="quiet">the next best checks take {{ clock(game.par_seconds) }}</span>
      </p>
      <ol class="trail" aria-label="Moves">
        <li v-for="(m, n) in game.moves" :key="n" :class="{ wrong: m.wrong }">
          {{ m.words }} <b>{{ m.answer }}</b> <small class="fig quiet">{{ clock(m.seconds) }}</small>
          <ul v-if="m.lines.length">
            <li v-for="x in m.lines" :key="x" class="small">{{ x }}</li>
          </ul>
        </li>
      </ol>
      <form v-if="!game.ended" class="guess" @submit.prevent="guess">
        <label for="first">It is, and I mend it</label>
        <select id="first" v-model="first">
          <option value="">choose when you know</option>
          <option v-for="x in game.names" :key="x.id" :value="x.id">{{ x.label }}: {{ x.what }}</option>
        </select>
        <template v-if="two">
          <label for="second">and</label>
          <select id="second" v-model="second">
            <option value="">the second fault</option>
            <option v-for="x in game.names" :key="x.id" :value="x.id">{{ x.label }}: {{ x.what }}</option>
          </select>
        </template>
        <button class="go" :disabled="busy || !first">That is it</button>
        <small class="quiet">A wrong mend costs five minutes.</small>
      </form>
      <div v-else class="end" role="status">
        <p>
          <b class="points fig">{{ game.points }}</b> of 100. It was: <b>{{ game.truth }}</b>
        </p>
        <button @click="emit('again')">The same case again</button>
      </div>
      <p class="small quiet">
        <code class="fig">{{ game.case }}</code> <button class="slight" @click="copy">Copy the case</button>
      </p>
    </section>
    <DebriefTable v-if="game.ended" :moves="game.moves" />
    <section v-else class="boxes" aria-label="What can be done">
      <section v-for="b in game.boxes" :key="b.device" :aria-label="b.label">
        <h2>{{ b.label }}</h2>
        <template v-for="[kind, name] in KINDS" :key="kind">
          <details v-if="b.checks.some((c) => c.kind === kind)" :open="kind !== 'cure'">
            <summary>{{ name }}</summary>
            <ul>
              <li v-for="c in b.checks.filter((x) => x.kind === kind)" :key="c.key">
                <button class="slight" :disabled="busy || made.has(c.key)" @click="emit('move', c.key)">
                  {{ c.words }} <small class="fig">{{ clock(c.seconds) }}</small>
                </button>
              </li>
            </ul>
          </details>
        </template>
      </section>
    </section>
  </div>
</template>

<style scoped>
.game {
  display: grid;
  grid-template-columns: minmax(300px, 1fr) minmax(0, 1.5fr);
  gap: 20px;
  align-items: start;
}
.state {
  background: var(--plate);
  border: 1px solid var(--rule-strong);
  border-left: 5px solid var(--signal);
  padding: 10px 14px;
  position: sticky;
  top: 8px;
}
.state h2 {
  font-size: 17px;
  color: var(--ink);
}
.said {
  list-style: none;
  padding: 0;
  margin: 6px 0;
  font-weight: 600;
}
.clock {
  margin: 6px 0;
}
.clock b {
  font-size: 19px;
}
.trail {
  padding-left: 20px;
  margin: 6px 0;
  max-height: 340px;
  overflow-y: auto;
}
.trail li {
  padding: 2px 0;
}
.trail ul {
  padding-left: 14px;
}
.trail .wrong b {
  color: var(--blocked);
}
.guess {
  display: grid;
  gap: 4px;
  border-top: 1px solid var(--rule);
  padding-top: 8px;
  margin-top: 8px;
}
.guess select {
  width: 100%;
}
.end {
  border-top: 1px solid var(--rule);
  padding-top: 8px;
}
.points {
  font-size: 24px;
}
.boxes {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(280px, 1fr));
  gap: 14px;
}
.boxes ul {
  list-style: none;
  padding: 0;
}
.boxes li button {
  width: 100%;
  text-align: left;
  white-space: normal;
  margin: 2px 0;
}
summary {
  cursor: pointer;
  color: var(--ink-2);
  font-size: var(--small);
  padding: 4px 0;
}
@media (max-width: 760px) {
  .game {
    grid-template-columns: 1fr;
  }
  .state {
    position: static;
  }
}
@media (pointer: coarse) {
  .boxes li button {
    min-height: 40px;
  }
}
</style>
