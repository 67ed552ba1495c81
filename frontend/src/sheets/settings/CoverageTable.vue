<script setup lang="ts">
// What a screen keeps apart: each cell the job needs, in the order to visit them.
import type { Coverage } from '../../api/client'

defineProps<{ screen: Coverage }>()
const NAMES = {
  input: 'input',
  resolution: 'resolution',
  rate: 'rate',
  range: 'range',
  mode: 'mode',
} as const
</script>

<template>
  <article>
    <h3>{{ screen.label }} keeps these apart</h3>
    <table class="plain">
      <thead>
        <tr>
          <th>visit</th>
          <th v-for="d in screen.dimensions" :key="d">{{ NAMES[d] }}</th>
          <th>met by</th>
          <th>state</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(c, n) in screen.cells" :key="c.key">
          <td class="fig">{{ n + 1 }}</td>
          <td v-for="(v, i) in c.at" :key="i">{{ v }}</td>
          <td>{{ c.runs.join(', ') }}</td>
          <td :class="{ attn: !c.visited }">{{ c.visited ? 'set' : 'not visited' }}</td>
        </tr>
      </tbody>
    </table>
    <p v-for="s in screen.shared" :key="s" class="small attn">{{ s }}</p>
    <p class="small quiet">{{ screen.copying }}</p>
  </article>
</template>

<style scoped>
article {
  margin: 8px 0 16px;
  max-width: 860px;
}
h3 {
  font-size: 14.5px;
  margin: 0 0 4px;
}
</style>
