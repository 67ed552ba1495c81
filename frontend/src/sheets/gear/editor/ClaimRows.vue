<script setup lang="ts">
// Lag as the maker claims it: in which mode, how many milliseconds. Never mixed with what was measured.
import { computed } from 'vue'

import type { Draft } from './draft'

interface Claim {
  condition: string
  lag_ms: number | string
}
const draft = defineModel<Draft>('draft', { required: true })
const rows = computed(() => (draft.value.claims as Claim[] | undefined) ?? [])
function write(next: Claim[]) {
  if (next.length) draft.value.claims = next
  else Reflect.deleteProperty(draft.value, 'claims')
}
const said = (event: Event) => (event.target as HTMLInputElement).value.trim()
// what is no number is handed on as it stands: the check says what is wrong with it
const figure = (text: string) => (text !== '' && Number.isFinite(Number(text)) ? Number(text) : text)
const change = (n: number, part: Partial<Claim>) => {
  write(rows.value.map((row, at) => (at === n ? { ...row, ...part } : row)))
}
</script>

<template>
  <div class="claims" role="group" aria-label="Lag its maker claims">
    <p v-for="(row, n) in rows" :key="n" class="row small">
      <label :for="`cl-c-${n}`">Its maker claims, in</label>
      <input
        :id="`cl-c-${n}`"
        :value="row.condition"
        maxlength="60"
        placeholder="game mode at 60 Hz"
        @change="change(n, { condition: said($event) })"
      />
      <input
        :aria-label="`Claimed lag ${n + 1}, ms`"
        class="fig ms"
        inputmode="decimal"
        :value="row.lag_ms"
        placeholder="not said"
        @change="change(n, { lag_ms: figure(said($event)) })"
      />
      <span>ms</span>
      <button class="slight" @click="write(rows.filter((_, at) => at !== n))">
        Remove<span class="sr"> claim {{ n + 1 }}</span>
      </button>
    </p>
    <button class="slight" @click="write([...rows, { condition: '', lag_ms: '' }])">Add a claimed lag</button>
  </div>
</template>

<style scoped>
.claims {
  margin-top: 8px;
}
.ms {
  width: 80px;
}
</style>
