<script setup lang="ts">
// Something is wrong: what is complained of, the next best check, the ranked causes, the trail.
import { computed } from 'vue'

import { useJob } from '../../shared/job'
import { useKeys } from '../../shared/keys'
import { mayEdit } from '../../shared/session'
import CauseList from './CauseList.vue'
import ComplaintPick from './ComplaintPick.vue'
import ExperiencePart from './ExperiencePart.vue'
import MoreChecks from './MoreChecks.vue'
import NextCheck from './NextCheck.vue'
import TrailList from './TrailList.vue'
import { useFault } from './useFault'
import { OUTCOME_KEYS, percent } from './words'

const job = useJob()
const { fault, noted, error, away, outbox, busy, refining, answer, takeBack, close } = useFault()
const begun = computed(() => !!fault.value?.trail.length)
useKeys(
  OUTCOME_KEYS.map((key, n) => ({
    key: `Shift+${key}`,
    does: `Outcome ${n + 1} of the next check`,
    run: () => {
      const next = fault.value?.next
      const outcome = next?.outcomes[n]
      if (next && outcome && mayEdit()) answer(next.key, outcome.value, outcome.words)
    },
  })),
)
</script>

<template>
  <h1>Fault: {{ job.run?.label ?? 'a run' }}</h1>
  <p v-if="fault">{{ fault.path }}</p>
  <p v-if="error" class="attn">{{ error.message }}</p>
  <p v-if="away" class="bar" role="alert">
    The server is not reached. {{ outbox.length }}
    {{ outbox.length === 1 ? 'answer is' : 'answers are' }} kept in this browser and sent when it is back.
  </p>
  <div v-if="!job.run" class="empty">
    <b>No run yet.</b> Add one on <RouterLink to="brief">Brief</RouterLink>.
  </div>
  <p v-else-if="!fault && !error" class="quiet" role="status">Trying every fault in the model…</p>
  <template v-if="fault">
    <div v-if="!fault.joined" class="empty">
      <b>The run is not joined as it was found.</b> Follow the lead from the source and note where it goes on
      <RouterLink to="wiring">Wiring</RouterLink>.
    </div>
    <template v-else>
      <ComplaintPick :fault="fault" :begun="begun" @answer="answer" @back="takeBack" />
      <p v-if="fault.helped" class="helped" role="status">
        <b>That helped: {{ fault.helped }}</b> Say below what it was, and the search is closed.
      </p>
      <p v-if="noted && !away" class="noted" role="status">
        <b>Noted{{ noted.words ? `: ${noted.words}` : '' }}.</b>
        <template v-if="noted.leaves">
          Likeliest then: {{ noted.leaves }}, {{ percent(noted.share) }}.</template
        >
        The next check is being weighed…
      </p>
      <NextCheck v-else-if="fault.next && !fault.helped" :check="fault.next" :busy="busy" @answer="answer" />
      <p v-else-if="begun && !fault.helped" class="small quiet">
        No check left that could tell what remains. Say what it was, or swap boxes one by one.
      </p>
      <CauseList v-if="begun" :fault="fault" :refining="refining" @answer="answer" @close="close" />
      <TrailList v-if="begun" :trail="fault.trail" @back="takeBack" @close="close('', false)" />
      <p v-if="!begun" class="empty">
        <b>Pick what is complained of.</b> {{ fault.singles }} single faults of this run are tried in the
        model, then two and three at once; what the boxes were seen to show counts as well.
      </p>
    </template>
    <Teleport defer to="#why-own">
      <MoreChecks :fault="fault" @answer="answer" />
      <ExperiencePart />
    </Teleport>
  </template>
</template>

<style scoped>
.bar {
  border: 1px solid var(--blocked);
  background: var(--blocked-soft);
  padding: 6px 10px;
  margin-bottom: 8px;
}
.noted {
  background: var(--plate);
  border: 1px solid var(--rule-strong);
  border-left: 5px solid var(--rule-strong);
  padding: 10px 14px;
  margin-bottom: 14px;
  max-width: 900px;
  min-height: 180px;
}
.helped {
  border-left: 4px solid var(--signal);
  background: var(--signal-soft);
  padding: 8px 12px;
  margin-bottom: 12px;
  max-width: 900px;
}
</style>
