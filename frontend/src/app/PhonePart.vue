<script setup lang="ts">
// Where a phone in the house opens this page: as a picture for its camera, with what its browser will ask.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { api, ask } from '../api/client'

const { data } = useQuery({ queryKey: ['phone'], queryFn: () => ask(api.GET('/api/v1/phone')) })
const picture = computed(() =>
  data.value?.qr_svg ? `data:image/svg+xml;charset=utf-8,${encodeURIComponent(data.value.qr_svg)}` : '',
)
</script>

<template>
  <section v-if="data" aria-label="Open on the phone">
    <h2>Open on the phone</h2>
    <div v-if="data.address" class="house">
      <img :src="picture" alt="The address, as a picture for a camera" width="132" height="132" />
      <div>
        <p class="fig">{{ data.address }}</p>
        <p class="small quiet">
          The phone asks once whether to trust the certificate: it is this installation’s own. It is the right
          one if it shows this SHA-256 fingerprint:
        </p>
        <p class="fig small print">{{ data.fingerprint }}</p>
      </div>
    </div>
    <p v-else class="small quiet">
      This server is reached from this machine alone. Start it with <code>wavilex serve --lan</code> to use it
      from a phone or let a source measure itself.
    </p>
  </section>
</template>

<style scoped>
.house {
  display: flex;
  gap: 12px;
  align-items: start;
}
img {
  background: #fff;
  border: 1px solid var(--rule-strong);
}
.print {
  overflow-wrap: anywhere;
}
section {
  margin: 10px 0 14px;
}
</style>
