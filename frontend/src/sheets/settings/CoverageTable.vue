<script setup lang="ts">
// What a screen keeps apart: each cell the job needs, in the order to visit them, and what copying would do.
import type { Coverage } from '../../api/client'

defineProps<{ screen: Coverage }>()
const STATES = {
  open: 'not visited',
  set: 'set, not proved',
  checked: 'set and proved',
  stale: 'stale: other boxes meet it now',
} as const
const LISTS = [
  ['reaches', 'It reaches'],
  ['misses', 'It misses'],
  ['overwrites', 'It would overwrite, though meant'],
] as const
</script>

<template>
  <article>
    <h3>{{ screen.label }} keeps these apart</h3>
    <table class="plain">
      <thead>
        <tr>
          <th>visit</th>
          <th v-for="d in screen.dimensions" :key="d">{{ d }}</th>
          <th>met by</th>
          <th>state</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(c, n) in screen.cells" :key="c.key">
          <td class="fig">{{ n + 1 }}</td>
          <td v-for="(v, i) in c.at" :key="i">{{ v }}</td>
          <td>{{ c.runs.join(', ') }}</td>
          <td :class="{ attn: c.state === 'open' || c.state === 'stale' }">{{ STATES[c.state] }}</td>
        </tr>
      </tbody>
    </table>
    <p class="small quiet">
      The order spares changes: inputs last, standard range before HDR<template v-if="screen.switches"
        >; {{ screen.switches }} {{ screen.switches === 1 ? 'change' : 'changes' }} of mode</template
      >. Each visit is a step of the <RouterLink to="runsheet">run sheet</RouterLink>.
    </p>
    <p v-for="s in screen.shared" :key="s" class="small attn">{{ s }}</p>
    <div class="copy plate">
      <h4>
        Its menu’s copy to every input<template v-if="screen.copying.start"
          >, made at {{ screen.copying.start }}</template
        >
      </h4>
      <template v-for="[key, words] in LISTS" :key="key">
        <p v-if="screen.copying[key].length" class="small">
          <b>{{ words }}:</b> {{ screen.copying[key].join('; ') }}.
        </p>
      </template>
      <p class="small quiet">{{ screen.copying.note }}</p>
    </div>
  </article>
</template>

<style scoped>
article {
  margin: 4px 0 22px;
  max-width: 900px;
}
h3 {
  font-size: 14.5px;
  margin: 0 0 4px;
}
h4 {
  font-size: 13.5px;
  margin-bottom: 3px;
}
.copy {
  padding: 8px 12px;
  margin-top: 8px;
}
</style>
