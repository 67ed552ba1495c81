<script setup lang="ts">
// One cell's values given to another, here or on a sister unit: what goes over and what stays is said before.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { api, ask, type GridBox } from '../../api/client'
import { useJob } from '../../shared/job'
import PickList from '../../shared/PickList.vue'

const props = defineProps<{ box: GridBox }>()
const job = useJob()
const start = ref(props.box.columns[0]?.scope ?? '')
const to = ref('')
const taste = ref(false)
const SPLIT = '\n'
const targets = computed(() => [
  ...props.box.columns
    .filter((c) => c.scope !== start.value)
    .map((c) => ({ id: `${props.box.device}${SPLIT}${c.scope}`, name: c.words })),
  ...props.box.sisters.flatMap((s) =>
    props.box.columns.map((c) => ({ id: `${s.id}${SPLIT}${c.scope}`, name: `${s.name}: ${c.words}` })),
  ),
])
const target = computed(() => targets.value.find((t) => t.id === to.value))
const sister = computed(() => target.value && !to.value.startsWith(props.box.device + SPLIT))
const { data: copy, error } = useQuery({
  queryKey: ['copy-values', () => job.view?.uid, () => job.view?.mark, start, to, taste],
  queryFn: () => {
    const [to_device = '', end = ''] = to.value.split(SPLIT)
    return ask(
      api.GET('/api/v1/jobs/{job_uid}/values/copy', {
        params: {
          path: { job_uid: job.view?.uid ?? '' },
          query: { device: props.box.device, start: start.value, to_device, end, taste: taste.value },
        },
      }),
    )
  },
  enabled: computed(() => Boolean(target.value && job.view)),
})
async function take() {
  if (!copy.value || !target.value) return
  if (await job.change(copy.value.ops, `${props.box.label}: values copied to ${target.value.name}`))
    to.value = ''
}
</script>

<template>
  <div class="copy plate">
    <h2>Copy a cell</h2>
    <div class="row">
      <PickList
        id="copy-from"
        label="from"
        :list="box.columns.map((c) => ({ id: c.scope, name: c.words }))"
        :value="start"
        @pick="start = $event"
      />
      <PickList
        id="copy-to"
        label="to"
        :list="targets"
        :value="to"
        none="choose a cell"
        @pick="to = $event"
      />
      <label v-if="sister" class="row"><input v-model="taste" type="checkbox" /> taste is agreed</label>
      <button v-if="copy?.ops.length && target" class="go" @click="take">
        Copy {{ copy.ops.length }} {{ copy.ops.length === 1 ? 'value' : 'values' }}
      </button>
    </div>
    <p v-if="error" class="attn">{{ error.message }}</p>
    <template v-else-if="copy && target">
      <p v-if="copy.copied.length" class="small"><b>Goes over:</b> {{ copy.copied.join('; ') }}.</p>
      <p v-else class="small quiet">Nothing to copy: all that may go over is there already.</p>
      <p v-if="copy.left.length" class="small"><b>Stays:</b> {{ copy.left.join('; ') }}.</p>
    </template>
    <p v-else class="small quiet">
      This changes the plan. What the box’s own menu can copy, and what that would overwrite, stands under
      <RouterLink :to="{ query: { part: 'coverage' } }">Coverage</RouterLink>.
    </p>
  </div>
</template>

<style scoped>
.copy {
  margin-top: 14px;
  padding: 8px 12px 10px;
  max-width: 900px;
  display: grid;
  gap: 6px;
}
h2 {
  font-size: 14.5px;
}
.row {
  align-items: end;
}
</style>
