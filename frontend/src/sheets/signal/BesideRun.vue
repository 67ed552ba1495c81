<script setup lang="ts">
// The run held against another: as found, a setting otherwise, another run. What differs comes first.
import { ref, watch } from 'vue'

import { api, ask } from '../../api/client'
import { useRunAnswer } from '../../shared/answers'
import { useJob } from '../../shared/job'
import PickList from '../../shared/PickList.vue'
import SideBySide from '../../shared/SideBySide.vue'

const job = useJob()
const to = ref('')
watch(
  () => job.run?.uid,
  () => (to.value = ''),
)
const { data: choices } = useRunAnswer('comparisons', (path) =>
  ask(api.GET('/api/v1/jobs/{job_uid}/runs/{run_uid}/comparisons', { params: { path } })),
)
const { data: told, error } = useRunAnswer(
  'compare',
  (path) =>
    ask(
      api.GET('/api/v1/jobs/{job_uid}/runs/{run_uid}/compare', { params: { path, query: { to: to.value } } }),
    ),
  { also: () => [to.value], enabled: () => to.value !== '' },
)
</script>

<template>
  <section class="beside" aria-label="Side by side">
    <PickList
      id="beside"
      label="Hold this run beside"
      none="nothing"
      :list="choices ?? []"
      :value="to"
      @pick="to = $event"
    />
    <p v-if="error" class="attn" role="alert">{{ error.message }}</p>
    <SideBySide v-if="to && told" :told="told" :a="told.a" :b="told.b" />
  </section>
</template>

<style scoped>
.beside {
  margin-top: 18px;
  border-top: 1px solid var(--rule);
  padding-top: 10px;
  display: grid;
  gap: 8px;
}
.beside :deep(select) {
  max-width: 360px;
}
</style>
