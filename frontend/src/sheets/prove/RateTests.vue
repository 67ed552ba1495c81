<script setup lang="ts">
// What rate the path really carries: one test at a time, the next chosen by what the last one showed.
import type { RateProof, SeenLine } from '../../api/client'
import { useJob } from '../../shared/job'
import { mayEdit } from '../../shared/session'
import { shortTime } from '../../shared/words'

defineProps<{ proof: RateProof }>()
const emit = defineEmits<{ see: [seen: SeenLine[], words: string] }>()
const job = useJob()
const did = (over: string, observed: 'held' | 'fell back', signal: string) =>
  emit('see', [{ line: `rate/${over}`, answer: 'seen', observed, photo: '' }], `${signal} ${observed}`)
</script>

<template>
  <section aria-label="Prove the rate">
    <h2>What rate does it really carry?</h2>
    <p role="status" class="told" :class="{ sure: proof.determined }">{{ proof.said }}</p>
    <p v-if="proof.asked" class="ask">
      <b>{{ proof.asked }}</b>
      <small class="quiet"
        >At most {{ proof.at_most }} {{ proof.at_most === 1 ? 'try' : 'tries' }} left.</small
      >
    </p>
    <p v-if="proof.swap" class="swap">{{ proof.swap }}</p>
    <p v-for="c in proof.stale" :key="c.what" class="small changed">
      Tried before {{ c.what }} changed ({{ c.was }} to {{ c.now
      }}{{ c.since ? `, ${shortTime(c.since, job.view?.time_zone)}` : '' }}): it counts no more.
    </p>
    <ul>
      <li
        v-for="t in [...proof.tests].reverse()"
        :key="t.over"
        :class="{ next: t.next, ok: t.outcome === 'held' }"
      >
        <span
          >{{ t.signal }}<br /><small class="quiet">needs {{ t.rate }}</small></span
        >
        <b v-if="t.outcome" :class="{ attn: t.outcome !== 'held' }">{{ t.outcome }}</b>
        <span v-if="mayEdit() && (t.next || t.outcome) && !proof.compressed" class="row">
          <button v-if="t.outcome !== 'held'" class="slight" @click="did(t.over, 'held', t.signal)">
            It held
          </button>
          <button v-if="t.outcome !== 'fell back'" class="slight" @click="did(t.over, 'fell back', t.signal)">
            It fell back
          </button>
        </span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  margin-top: 6px;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
  justify-content: space-between;
  align-items: center;
  padding: 4px 6px;
  border-top: 1px solid var(--rule);
}
li.next {
  background: var(--signal-soft);
  border-left: 4px solid var(--signal);
}
.ask small {
  display: block;
}
.told,
.ask,
.swap {
  margin: 4px 0;
}
.told.sure {
  font-weight: 600;
}
.swap {
  border-left: 3px solid var(--signal);
  padding-left: 8px;
}
.changed {
  color: var(--tight);
}
.row {
  display: flex;
  gap: 4px;
}
@media (pointer: coarse) {
  button.slight {
    min-height: 40px;
  }
}
</style>
