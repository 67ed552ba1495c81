<script setup lang="ts">
// The settings plan: what differs from the plan first, box by box; then what is right as it is.
import { computed } from 'vue'

import { api, ask } from '../../api/client'
import { useJobAnswer } from '../../shared/answers'
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'
import ChoiceList from './ChoiceList.vue'
import PlanRow from './PlanRow.vue'

const job = useJob()
const {
  data: plan,
  error,
  fresh,
} = useJobAnswer('settings-plan', (path) =>
  ask(api.GET('/api/v1/jobs/{job_uid}/settings-plan', { params: { path } })),
)
// boxes with something to change first; each box's changes apart from what is right already
const boxes = computed(() =>
  (plan.value?.boxes ?? [])
    .map((b) => ({ ...b, changes: b.rows.filter((r) => r.changes), right: b.rows.filter((r) => !r.changes) }))
    .sort((a, b) => Number(b.changes.length > 0) - Number(a.changes.length > 0)),
)
const takeOver = () => fresh.value && void job.change(plan.value?.ops ?? [], 'the settings plan')
</script>

<template>
  <p v-if="error" class="attn">{{ error.message }}</p>
  <p v-else-if="!plan" class="quiet" role="status">Working out what to set…</p>
  <template v-else>
    <div class="sum row">
      <p>
        <b v-if="plan.changes"
          >Advice: plan {{ plan.changes === 1 ? '1 setting' : `${plan.changes} settings` }} otherwise than
          now.</b
        >
        <b v-else>The plan has every setting as it should be.</b>
        Solved from wants, chain, gear and house style.
        <template v-if="plan.hdr_left_off.length"
          >HDR left off by house style: {{ plan.hdr_left_off.join(', ') }}.</template
        >
      </p>
      <button v-if="mayEdit() && plan.ops.length" class="go" @click="takeOver">Plan all of these</button>
    </div>
    <ChoiceList />
    <section v-for="b in boxes" :key="b.device" :aria-label="b.label">
      <h2>
        {{ b.label }}<span v-if="b.room" class="room">, {{ b.room }}</span>
      </h2>
      <ul>
        <PlanRow v-for="r in b.changes" :key="r.scope + r.key" :device="b.device" :row="r" />
        <li v-if="b.right.length" class="rest">
          <details>
            <summary>
              {{ b.changes.length ? 'and as they should be:' : 'as they should be:' }}
              {{ b.right.map((r) => `${r.label} ${r.to}`).join(', ') }}
            </summary>
            <ul>
              <PlanRow v-for="r in b.right" :key="r.scope + r.key" :device="b.device" :row="r" />
            </ul>
          </details>
        </li>
      </ul>
    </section>
    <p v-if="!plan.boxes.length" class="empty">
      <b>Nothing to set yet.</b> Runs and their wants say what matters: add them on
      <RouterLink to="brief">Brief</RouterLink>.
    </p>
  </template>
</template>

<style scoped>
.sum {
  justify-content: space-between;
  margin-bottom: 10px;
}
.sum p {
  flex: 1 1 300px;
  color: var(--ink-2);
}
.sum b {
  color: var(--ink);
}
section {
  margin-bottom: 14px;
  max-width: 900px;
}
h2 {
  font-size: 14.5px;
  color: var(--ink);
  margin-bottom: 3px;
}
.room {
  font-weight: 400;
  color: var(--ink-2);
}
ul {
  list-style: none;
  padding: 0;
}
section > ul {
  background: var(--plate);
  border: 1px solid var(--rule-strong);
}
.rest {
  padding: 6px 12px;
  font-size: 13px;
}
summary {
  color: var(--ink-2);
  cursor: pointer;
  line-height: 1.5;
}
</style>
