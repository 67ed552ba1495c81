<script setup lang="ts">
// What this installation confirmed, and how that moves the odds; it can be forgotten.
import { useQuery, useQueryClient } from '@tanstack/vue-query'

import { api, ask } from '../../api/client'
import { tell } from '../../shared/announce'
import { mayEdit } from '../../shared/session'

const client = useQueryClient()
const { data } = useQuery({
  queryKey: ['experience'],
  queryFn: () => ask(api.GET('/api/v1/faults/experience')),
  refetchOnMount: 'always',
})
async function forget() {
  client.setQueryData(['experience'], await ask(api.POST('/api/v1/faults/forget')))
  await client.invalidateQueries({ queryKey: ['fault'] })
  tell('Forgotten: common practice alone counts again.')
}
</script>

<template>
  <section v-if="data" aria-label="Experience here">
    <h2>Experience here</h2>
    <p v-if="!data.total" class="small quiet">
      Nothing confirmed yet. “It was this” is counted by kind, on this machine only, and moves the odds;
      common practice weighs as {{ data.practice_weighs }} faults.
    </p>
    <template v-else>
      <table class="plain small">
        <thead>
          <tr>
            <th scope="col">Kind, at</th>
            <th scope="col">Here</th>
            <th scope="col">Odds</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in data.rows" :key="r.kind + r.box">
            <td>{{ r.name }}, {{ r.box }}</td>
            <td class="fig">{{ r.confirmed }}</td>
            <td class="fig">× {{ r.times.toFixed(2) }}</td>
          </tr>
        </tbody>
      </table>
      <button v-if="mayEdit()" class="slight" @click="forget">Forget it</button>
    </template>
  </section>
</template>

<style scoped>
button {
  margin-top: 6px;
}
</style>
