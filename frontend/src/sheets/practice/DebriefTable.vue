<script setup lang="ts">
// Every move beside what the machine would have asked there, and how sure of the truth one could be before it.
import type { Game } from '../../api/client'
import ShareBar from '../../shared/ShareBar.vue'
import { clock } from './words'

defineProps<{ moves: Game['moves'] }>()
const percent = (share: number) => `${Math.round(share * 100)} %`
</script>

<template>
  <section aria-label="Debrief" class="debrief">
    <h2>Debrief</h2>
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">Truth, before</th>
          <th scope="col">You did</th>
          <th scope="col">The machine would have</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(m, n) in moves" :key="n">
          <td>
            <span class="fig">{{ percent(m.truth) }}</span>
            <ShareBar :share="m.truth" />
          </td>
          <td>
            {{ m.words }} <b>{{ m.answer }}</b>
            <small class="quiet fig"> {{ clock(m.seconds) }}</small>
          </td>
          <td>
            <template v-if="m.instead === m.words">the same</template>
            <template v-else>{{ m.instead || 'nothing left to ask' }}</template>
            <small class="quiet">{{ m.why }}{{ m.first ? `; it suspected ${m.first}` : '' }}</small>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
td {
  vertical-align: top;
}
td small {
  display: block;
}
</style>
