<script setup lang="ts">
// Causes by how probable they are, each with what speaks for it and what mends it.
import { computed, ref, watch } from 'vue'

import type { Fault, FaultCause } from '../../api/client'
import { useJob } from '../../shared/job'
import { mayEdit } from '../../shared/session'
import ShareBar from '../../shared/ShareBar.vue'
import { percent, seconds } from './words'

const props = defineProps<{ fault: Fault; refining: boolean }>()
const emit = defineEmits<{
  answer: [key: string, value: string, words: string]
  close: [cause: string, note: boolean]
}>()
const job = useJob()
const open = ref('')
watch(
  () => props.fault.causes[0]?.id,
  (id) => (open.value = id ?? ''),
  { immediate: true },
)
const plan = (c: FaultCause) => {
  const ops = c.cures.find((x) => x.ops.length)?.ops ?? []
  if (ops.length) void job.change(ops, `planned: ${c.cures[0]?.words ?? ''}`)
}
const plans = (c: FaultCause) => c.cures.some((x) => x.ops.length)
const rest = computed(() => [
  {
    key: 'nothing',
    share: props.fault.nothing,
    words: props.fault.nothing_why
      ? `All is as noted, and that is to be expected: ${props.fault.nothing_why}`
      : 'All is as noted; nothing here explains it',
  },
  { key: 'unknown', share: props.fault.unknown, words: 'Something this model knows nothing of' },
])
</script>

<template>
  <section aria-label="What may be the matter" class="causes">
    <header class="row">
      <h2>What may be the matter</h2>
      <small class="quiet" aria-live="polite">
        {{ fault.singles }} single faults, {{ fault.pairs_tried }} of {{ fault.pairs }} pairs tried{{
          refining || !fault.refined ? '; still trying' : ''
        }}
      </small>
    </header>
    <ol>
      <li v-for="c in fault.causes" :key="c.id" :class="{ first: c.rank === 1 }">
        <button class="line" :aria-expanded="open === c.id" @click="open = open === c.id ? '' : c.id">
          <span class="share fig">{{ percent(c.share) }}</span>
          <ShareBar :share="c.share" />
          <span class="text">{{ c.what.join('; and ') }}</span>
        </button>
        <div v-if="open === c.id" class="more">
          <ul class="for">
            <li v-for="r in c.reasons" :key="r.text" :class="{ against: !r.speaks_for }">
              <b aria-hidden="true">{{ r.speaks_for ? '+' : '−' }}</b>
              <span class="sr">{{ r.speaks_for ? 'for it' : 'against it' }}:</span> {{ r.text }}
            </li>
          </ul>
          <p v-for="a in c.also" :key="a" class="small quiet">Or {{ a }}.</p>
          <ul class="cures">
            <li v-for="x in c.cures" :key="x.key">
              <span>
                {{ x.words }}
                <small class="quiet">{{ seconds(x.seconds) }}, mends it in {{ percent(x.likely) }}</small>
                <small v-if="x.caution" class="caution">{{ x.caution }}</small>
              </span>
              <span v-if="mayEdit()" class="row both">
                <button class="slight" @click="emit('answer', x.key, 'helped', 'that helped')">Helped</button>
                <button class="slight" @click="emit('answer', x.key, 'stayed', 'no change')">
                  No change
                </button>
              </span>
            </li>
          </ul>
          <p v-if="mayEdit()" class="row acts">
            <button class="go" @click="emit('close', c.id, false)">It was this, and is mended</button>
            <button v-if="c.note_ops.length" class="slight" @click="emit('close', c.id, true)">
              It is so: note it as found
            </button>
            <button v-if="plans(c)" class="slight" @click="plan(c)">Plan the cure</button>
          </p>
          <p class="small quiet">Odds before anybody looked: {{ c.source_words }}.</p>
        </div>
      </li>
      <li v-for="r in rest" :key="r.key" class="rest">
        <span class="share fig">{{ percent(r.share) }}</span>
        <ShareBar :share="r.share" quiet />
        <span class="text quiet">{{ r.words }}</span>
      </li>
    </ol>
    <p class="small quiet">
      Shares by what was seen and by how often each fault is met (common practice, and what was confirmed
      here). Nobody has looked unless the trail says so.
    </p>
  </section>
</template>

<style scoped>
.causes {
  max-width: 900px;
  margin-bottom: 14px;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: baseline;
  justify-content: space-between;
}
ol {
  list-style: none;
  padding: 0;
  background: var(--plate);
  border: 1px solid var(--rule-strong);
  margin: 4px 0;
}
ol > li {
  border-bottom: 1px solid var(--rule);
}
ol > li:last-child {
  border-bottom: 0;
}
ol > li.first {
  box-shadow: inset 4px 0 0 var(--signal);
}
.line,
.rest {
  display: grid;
  grid-template-columns: 58px minmax(60px, 140px) 1fr;
  gap: 10px;
  align-items: center;
  width: 100%;
  padding: 7px 12px;
  text-align: left;
}
.line {
  border: 0;
  background: none;
  font-weight: 400;
  white-space: normal;
}
.first .line {
  font-weight: 600;
}
.share {
  text-align: right;
}
.text {
  overflow-wrap: anywhere;
}
.more {
  padding: 2px 14px 10px 80px;
}
.for,
.cures {
  list-style: none;
  padding: 0;
}
.for li {
  font-size: var(--small);
  padding: 2px 0;
}
.for b {
  display: inline-block;
  width: 1em;
  color: var(--signal);
}
.for .against b {
  color: var(--blocked);
}
.cures {
  margin-top: 6px;
}
.cures li {
  display: flex;
  gap: 10px;
  justify-content: space-between;
  align-items: center;
  border-top: 1px solid var(--rule);
  padding: 4px 0;
}
.caution {
  display: block;
  border-left: 3px solid var(--tight);
  padding-left: 6px;
}
.row {
  display: flex;
  gap: 5px;
}
.both {
  flex: none;
}
.acts {
  flex-wrap: wrap;
  margin: 8px 0 2px;
}
@media (max-width: 600px) {
  .line,
  .rest {
    grid-template-columns: 50px 1fr;
  }
  .more {
    padding-left: 14px;
  }
  .cures li {
    flex-direction: column;
    align-items: stretch;
  }
}
@media (pointer: coarse) {
  button,
  button.slight {
    min-height: 40px;
  }
}
</style>
