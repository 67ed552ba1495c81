<script setup lang="ts">
// Where an EDID comes from: a file, hex digits, or a connector of the PC the server runs on.
import { useQuery } from '@tanstack/vue-query'

import { api, ask, Problem } from '../../../api/client'

const text = defineModel<string>({ required: true })
const emit = defineEmits<{ fault: [words: string]; picked: [] }>()
const { data } = useQuery({
  queryKey: ['connectors'],
  queryFn: () => ask(api.GET('/api/v1/edid/connectors')),
  staleTime: 0,
})

async function readFile(event: Event) {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  const bytes = new Uint8Array(await file.arrayBuffer())
  const binary = bytes[0] === 0 && bytes[1] === 0xff
  text.value = binary
    ? Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join(' ')
    : new TextDecoder().decode(bytes)
  emit('picked')
}
async function readConnector(connector: string) {
  try {
    const read = await ask(
      api.GET('/api/v1/edid/connectors/{connector}', { params: { path: { connector } } }),
    )
    text.value = read.text
    emit('picked')
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    emit('fault', problem.detail)
  }
}
</script>

<template>
  <div class="source">
    <input type="file" accept=".bin,.hex,.txt,.edid" aria-label="EDID file" @change="readFile" />
    <div v-if="data?.connectors.length" class="row">
      <span class="quiet small">{{
        data.simulated ? 'Simulated connectors:' : 'This PC’s connectors:'
      }}</span>
      <button
        v-for="c in data.connectors"
        :key="c.connector"
        class="slight"
        :disabled="!c.readable"
        :title="c.connector"
        @click="readConnector(c.connector)"
      >
        {{ c.name || 'nothing plugged in' }}
        <small class="quiet">{{ c.connector.replace(/^card\d+-/, '') }}</small>
      </button>
    </div>
    <p v-else-if="data" class="quiet small">The PC the server runs on shows no connectors to read.</p>
    <textarea
      v-model="text"
      rows="4"
      class="fig"
      aria-label="EDID as hex digits"
      placeholder="00 FF FF FF FF FF FF 00 …"
      spellcheck="false"
    ></textarea>
  </div>
</template>

<style scoped>
.source {
  display: grid;
  gap: 8px;
  margin: 8px 0;
}
textarea {
  font-size: 13px;
}
</style>
