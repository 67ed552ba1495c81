<script setup lang="ts">
// The best places for every source: who goes where and why, what moves, and what the runner-up would cost.
import Dialog from 'primevue/dialog'
import { computed } from 'vue'

import { api, ask } from '../../api/client'
import { useJobAnswer } from '../../shared/answers'
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'
import BackPanels from '../../shared/BackPanels.vue'
import VerdictIcon from '../../shared/VerdictIcon.vue'

const visible = defineModel<boolean>('visible', { required: true })
const job = useJob()
const LABEL = 'The best places'
const { data, error, isFetching, fresh } = useJobAnswer(
  'assignment',
  (path) => ask(api.GET('/api/v1/jobs/{job_uid}/assignment', { params: { path } })),
  { enabled: () => visible.value },
)
const changed = computed(() => data.value?.places.filter((p) => p.moved || p.settings.length) ?? [])
const kept = computed(() => data.value?.places.filter((p) => !p.moved && !p.settings.length) ?? [])

function tryIt() {
  if (!fresh.value) return
  visible.value = false
  void job.tryOut(data.value?.ops ?? [], LABEL)
}
async function apply() {
  if (fresh.value && (await job.change(data.value?.ops ?? [], LABEL))) visible.value = false
}
</script>

<template>
  <Dialog
    v-model:visible="visible"
    modal
    dismissable-mask
    header="The best places"
    :style="{ width: '860px', maxWidth: '96vw' }"
  >
    <p v-if="error" class="attn">{{ error.message }}</p>
    <p v-else-if="!data" class="quiet" role="status">
      {{ isFetching ? 'Trying every source in every input…' : '' }}
    </p>
    <template v-else>
      <p class="headline">{{ data.headline }}</p>
      <table v-if="data.places.length">
        <thead>
          <tr>
            <th>run</th>
            <th>goes to</th>
            <th>why</th>
          </tr>
        </thead>
        <tbody
          v-for="[name, rows] in [
            ['changes', changed],
            ['stays', kept],
          ] as const"
          :key="name"
        >
          <tr v-if="rows.length" class="group">
            <th colspan="3">{{ name === 'changes' ? 'Changes' : 'Stays where it is' }}</th>
          </tr>
          <tr v-for="p in rows" :key="p.run">
            <td>
              <b>{{ p.label }}</b><span v-if="p.weight > 1" class="quiet"> counts {{ p.weight }}×</span>
            </td>
            <td>
              <b v-if="p.moved">{{ p.input }}</b><template v-else>{{ p.input || 'finds none' }}</template>
              <span v-if="p.moved && p.now" class="quiet small"
                ><br />now {{ p.now }}, lead {{ p.lead }}</span
              >
              <span v-for="s in p.settings" :key="s.text" class="small"><br />{{ s.text }}</span>
            </td>
            <td class="why"><VerdictIcon :verdict="p.verdict" /> {{ p.why }}</td>
          </tr>
        </tbody>
      </table>
      <p v-for="b in data.boxes" :key="b">{{ b }}.</p>
      <template v-if="data.effects.length">
        <h2>What else it does</h2>
        <ul>
          <li v-for="e in data.effects" :key="e">{{ e }}</li>
        </ul>
      </template>
      <template v-if="data.runner_up">
        <h2>The runner-up</h2>
        <ul>
          <li v-for="l in data.runner_up.loses" :key="l">{{ l }}</li>
        </ul>
      </template>
      <details v-if="data.sockets.length">
        <summary>Where, on the boxes: plugs and settings</summary>
        <BackPanels :sockets="data.sockets" />
      </details>
      <p class="src">
        {{
          data.proved
            ? 'Proved: no change of this job gives more weight of wants; of ways that give as much, fewest plugs'
            : data.settled
              ? 'Every set of the moves known was looked at for each run left: none leaves the others theirs'
              : 'Not proved: the most found. A way that gives more may exist'
        }}; {{ data.looked_at }} places judged.
      </p>
      <p class="row">
        <button v-if="data.ops.length" @click="tryIt">Try</button>
        <button v-if="data.ops.length" class="go" :disabled="!mayEdit()" @click="apply">Apply</button>
        <button @click="visible = false">Close <kbd>Esc</kbd></button>
      </p>
    </template>
  </Dialog>
</template>

<style scoped>
.headline {
  font-size: 16px;
  font-weight: 600;
  margin-bottom: 8px;
}
table {
  border-collapse: collapse;
  width: 100%;
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 4px 10px 4px 0;
  border-bottom: 1px solid var(--rule);
}
th {
  font-size: 13px;
  font-weight: 400;
  color: var(--ink-2);
}
.group th {
  font-weight: 650;
  padding-top: 10px;
}
.why {
  width: 46%;
  font-size: 13.5px;
}
.src {
  font-size: 13px;
  color: var(--ink-3);
  margin: 8px 0;
}
ul {
  padding-left: 18px;
}
</style>
