<script setup lang="ts">
// The next best check: what to do, what it takes, one tap an outcome, and what each would leave.
import { computed, ref } from 'vue'

import type { FaultCheck } from '../../api/client'
import { mayEdit } from '../../shared/session'
import ShareBar from '../../shared/ShareBar.vue'
import { OUTCOME_KEYS, percent, seconds } from './words'

const props = defineProps<{ check: FaultCheck; busy: boolean }>()
const emit = defineEmits<{ answer: [key: string, value: string, words: string] }>()
const other = ref('')
const AT_LEAST = 0.03
const likely = computed(() => props.check.outcomes.filter((o, n) => n < 2 || o.probable >= AT_LEAST))
const seldom = computed(() => props.check.outcomes.filter((o) => !likely.value.includes(o)))
const lead = computed(() => ({ read: 'Read', look: 'Look', cure: 'Try' })[props.check.kind])
function typed() {
  const words = other.value.trim()
  if (words) emit('answer', props.check.key, words, words)
  other.value = ''
}
</script>

<template>
  <section class="next" aria-label="Next check" :aria-busy="busy" :data-key="check.key">
    <header>
      <span class="do">{{ lead }}</span>
      <h2 class="what">{{ check.words }}</h2>
      <span class="takes fig">{{ seconds(check.seconds) }}</span>
    </header>
    <p class="small quiet">
      {{ check.label }} · {{ check.why }}{{ check.disturbs ? ' · the client sees it' : '' }}
    </p>
    <p v-if="check.caution" class="caution small">{{ check.caution }}</p>
    <ol>
      <li v-for="(o, n) in likely" :key="o.value">
        <button
          :data-value="o.value"
          :disabled="!mayEdit()"
          @click="emit('answer', check.key, o.value, o.words)"
        >
          <kbd aria-hidden="true">⇧{{ OUTCOME_KEYS[n] }}</kbd> {{ o.words }}
        </button>
        <ShareBar :share="o.probable" quiet />
        <small class="quiet"
          >{{ percent(o.probable) }} likely; then {{ o.leaves
          }}{{ o.share < 1 ? `, ${percent(o.share)}` : '' }}</small
        >
      </li>
    </ol>
    <p v-if="seldom.length" class="row seldom">
      <small class="quiet">hardly:</small>
      <button
        v-for="o in seldom"
        :key="o.value"
        :data-value="o.value"
        class="slight"
        :disabled="!mayEdit()"
        @click="emit('answer', check.key, o.value, o.words)"
      >
        {{ o.words }}
      </button>
    </p>
    <div class="row last">
      <form v-if="check.kind === 'read'" class="row" @submit.prevent="typed">
        <label class="sr" for="other">Something else is shown</label>
        <input
          id="other"
          v-model="other"
          placeholder="something else: what?"
          maxlength="80"
          :disabled="!mayEdit()"
        />
        <button class="slight" :disabled="!other.trim()">Note it</button>
      </form>
      <button
        class="slight"
        :disabled="!mayEdit()"
        @click="emit('answer', check.key, 'cannot', 'cannot be done')"
      >
        Cannot do that
      </button>
    </div>
  </section>
</template>

<style scoped>
.next {
  background: var(--plate);
  border: 1px solid var(--rule-strong);
  border-left: 5px solid var(--signal);
  border-radius: var(--r);
  padding: 10px 14px;
  margin-bottom: 14px;
  max-width: 900px;
}
header {
  display: grid;
  grid-template-columns: auto 1fr auto;
  gap: 2px 10px;
  align-items: baseline;
}
.do {
  color: var(--signal);
  font-weight: 680;
}
.what {
  font-size: 17px;
  color: var(--ink);
  overflow-wrap: anywhere;
}
.takes {
  color: var(--ink-2);
}
.caution {
  border-left: 3px solid var(--tight);
  padding-left: 8px;
  margin-top: 4px;
}
ol {
  list-style: none;
  padding: 0;
  margin: 8px 0 6px;
  display: grid;
  gap: 5px;
}
li {
  display: grid;
  grid-template-columns: minmax(150px, 270px) 70px 1fr;
  gap: 4px 10px;
  align-items: center;
}
li button {
  text-align: left;
  white-space: normal;
}
.seldom {
  flex-wrap: wrap;
  align-items: baseline;
  margin-bottom: 8px;
}
.last {
  flex-wrap: wrap;
  justify-content: space-between;
}
.row {
  display: flex;
  gap: 6px;
}
@media (pointer: coarse) {
  kbd {
    display: none;
  }
}
@media (max-width: 600px) {
  li {
    grid-template-columns: 1fr;
    gap: 2px;
  }
  li button {
    min-height: 44px;
    width: 100%;
  }
}
</style>
