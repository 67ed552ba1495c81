<script setup lang="ts">
// Which mode proves which rate, and what the outcomes so far prove.
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'

import { api, ask } from '../../api/client'
import TickBox from '../../shared/TickBox.vue'

const outcome = reactive<Record<string, '' | 'stuck' | 'fell'>>({})
const off = ref(false)
const list = (kind: 'stuck' | 'fell') =>
  Object.keys(outcome)
    .filter((rate) => outcome[rate] === kind)
    .join(',')
const query = computed(() => ({ stuck: list('stuck'), fell: list('fell'), compression_off: off.value }))
const { data } = useQuery({
  queryKey: computed(() => ['proof', query.value]),
  queryFn: () => ask(api.GET('/api/v1/scratch/proof', { params: { query: query.value } })),
  placeholderData: (old) => old,
})
</script>

<template>
  <section v-if="data" class="proof" aria-label="Prove a rate">
    <h2>What rate is it really? Try from the top</h2>
    <TickBox :checked="off" @set="off = $event">compression is off at both ends</TickBox>
    <ul>
      <li v-for="s in data.steps" :key="s.rate">
        <span
          >{{ s.signal }}<br /><small class="quiet">proves {{ s.rate_name }}</small></span
        >
        <select v-model="outcome[s.rate]" :aria-label="`Outcome of ${s.signal}`">
          <option :value="undefined">not tried</option>
          <option value="stuck">stuck</option>
          <option value="fell">fell back</option>
        </select>
      </li>
    </ul>
    <p role="status" class="told" :class="{ sure: data.determined }">{{ data.sentence }}</p>
  </section>
</template>

<style scoped>
.proof {
  border-top: 1px solid var(--rule);
  padding-top: 10px;
}
ul {
  list-style: none;
  padding: 0;
}
li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 3px 0;
}
.told {
  margin-top: 6px;
}
.sure {
  font-weight: 640;
}
</style>
