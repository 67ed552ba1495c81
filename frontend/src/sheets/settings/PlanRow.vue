<script setup lang="ts">
// One setting of the plan: where, from, to, why; what it does elsewhere, what comes back, may a sister unit have it.
import { computed } from 'vue'

import type { Op, PlannedSetting } from '../../api/client'
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'
import { sentence } from '../../shared/words'

const props = defineProps<{ device: string; row: PlannedSetting }>()
const job = useJob()
const op = computed<Op>(() => ({
  op: 'set_setting',
  device: props.device,
  scope: props.row.scope,
  key: props.row.key,
  value: props.row.value,
}))
const name = computed(() => (props.row.input ? `${props.row.input}, ${props.row.label}` : props.row.label))
const take = () => void job.change([op.value], `${name.value} → ${props.row.to}`)
const STANDS = {
  greyed: 'greyed out',
  forced: 'set by the box',
  inert: 'does nothing',
  cycle: 'unsettled',
  '': '',
}
</script>

<template>
  <li :class="{ changes: row.changes }">
    <div>
      <p class="what">
        {{ row.label }}: <template v-if="row.changes">{{ row.plan_now }} → </template><b>{{ row.to }}</b>
        <small class="at">{{ [row.input, row.where].filter(Boolean).join(' · ') }}</small>
      </p>
      <p class="small">{{ sentence(row.why) }}</p>
      <small v-if="row.standing"
        ><b>{{ STANDS[row.standing] }}</b
        >: {{ row.because }}; {{ row.frees }}</small
      >
      <small v-for="s in row.signals" :key="s">{{ s }}</small>
      <small v-for="e in row.elsewhere" :key="e">It {{ e }}</small>
      <small v-if="row.returns" class="tight">{{ sentence(row.returns) }}</small>
      <small v-for="c in row.clashes" :key="c" class="tight">{{ c }}</small>
      <small class="foot"
        >found: <span :class="{ attn: row.seen_otherwise }">{{ row.found }}</span> · for
        {{ row.runs.join(', ') }} · {{ row.source }} · copy to a sister unit: {{ row.copies }}</small
      >
    </div>
    <button v-if="row.changes && mayEdit()" class="slight" @click="take">
      Plan it<span class="sr">: {{ name }}</span>
    </button>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 10px;
  align-items: start;
  padding: 7px 12px 8px;
  border-bottom: 1px solid var(--rule);
}
li:last-child {
  border-bottom: 0;
}
li.changes {
  box-shadow: inset 3px 0 0 var(--signal);
}
small {
  display: block;
  color: var(--ink-2);
  line-height: 1.4;
}
.at {
  display: inline;
  margin-left: 6px;
}
.what {
  color: var(--ink);
}
.tight {
  border-left: 3px solid var(--tight);
  padding-left: 6px;
}
</style>
