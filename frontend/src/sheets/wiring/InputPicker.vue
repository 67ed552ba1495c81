<script setup lang="ts">
// Where an output may go: every input ranked, each with the reason for its rank.
import { computed, nextTick, ref, watch } from 'vue'

import { api, ask, type InputOption } from '../../api/client'
import { useJobAnswer } from '../../shared/answers'
import { useKeys } from '../../shared/keys'
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'
import VerdictIcon from '../../shared/VerdictIcon.vue'

const props = defineProps<{ device: string; port: string }>()
const emit = defineEmits<{ close: [] }>()
const job = useJob()
const all = ref(false)
const panel = ref<HTMLElement | null>(null)
const SHORT = 4
const DIGITS = 9

const { data, error, fresh } = useJobAnswer(
  'inputs',
  (path) =>
    ask(
      api.GET('/api/v1/jobs/{job_uid}/inputs', {
        params: { path, query: { device: props.device, port: props.port } },
      }),
    ),
  { also: () => [props.device, props.port] },
)
const options = computed(() => (all.value ? data.value : data.value?.slice(0, SHORT)) ?? [])
const from = computed(() => job.deviceOf(props.device))
const fromPort = computed(() => from.value?.ports.find((p) => p.id === props.port))
watch(options, async () => {
  await nextTick()
  panel.value?.querySelector<HTMLElement>('button.option')?.focus()
})

async function choose(option: InputOption | undefined) {
  if (!option || !mayEdit() || !fresh.value) return
  if (option.here) emit('close')
  else if (await job.change(option.ops, `${from.value?.label ?? ''} to ${option.name}`)) emit('close')
}
async function unplug() {
  const lead = fromPort.value?.lead
  if (lead && (await job.change([{ op: 'remove_lead', lead }], `lead ${lead} taken out`))) emit('close')
}

useKeys([
  ...Array.from({ length: DIGITS }, (_, n) => ({
    key: String(n + 1),
    does: `Choose input ${n + 1}`,
    run: () => void choose(options.value[n]),
  })),
  { key: 'Escape', does: 'Close the list', run: () => emit('close') },
])
</script>

<template>
  <section ref="panel" class="float pick" :aria-label="`Where ${from?.label ?? ''} goes`">
    <h2>{{ from?.label }}, {{ fromPort?.label }}, to</h2>
    <p v-if="error" class="attn">{{ error.message }}</p>
    <p v-else-if="!data" class="quiet small">Trying every input…</p>
    <p v-else-if="!data.length" class="quiet">No box with an input yet: add a screen on Gear.</p>
    <button
      v-for="(o, n) in options"
      :key="o.device + o.port"
      class="option"
      :class="{ here: o.here }"
      :disabled="!mayEdit()"
      @click="choose(o)"
    >
      <kbd>{{ n + 1 }}</kbd>
      <b>{{ o.name }}</b>
      <VerdictIcon :verdict="o.verdict" />
      <small>
        <template v-if="o.here">as now; </template>
        <template v-if="o.holds">holds lead {{ o.holds }}, which changes places or comes out; </template
        >{{ o.why }}
      </small>
    </button>
    <p class="row">
      <button v-if="data && data.length > SHORT && !all" @click="all = true">All {{ data.length }}</button>
      <button v-if="fromPort?.lead && mayEdit()" @click="unplug">Take lead {{ fromPort.lead }} out</button>
      <button @click="$emit('close')">Close <kbd>Esc</kbd></button>
    </p>
  </section>
</template>

<style scoped>
.pick {
  width: 340px;
  max-height: 430px;
  overflow-y: auto;
}
.option {
  display: grid;
  grid-template-columns: 22px 1fr auto;
  gap: 2px 8px;
  padding: 5px 4px;
  border: 0;
  border-radius: 2px;
  background: none;
  text-align: left;
  width: 100%;
  align-items: center;
  font-weight: 400;
  white-space: normal;
}
.option b {
  font-weight: 500;
}
.option:first-of-type b {
  font-weight: 650;
}
.option:hover,
.option:focus-visible {
  background: var(--signal-soft);
}
.option small {
  grid-column: 2/-1;
  color: var(--ink-2);
  line-height: 1.3;
}
.row {
  margin-top: 8px;
}
</style>
