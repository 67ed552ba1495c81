<script setup lang="ts">
// One step at a time, large: what to do, where it is, what to see, what if not; back and on.
import { computed, ref, watch } from 'vue'

import type { Step } from '../../api/client'
import BackPanels from '../../shared/BackPanels.vue'
import { mayEdit } from '../../shared/session'
import type { TickState } from './useRunSheet'

const props = defineProps<{ steps: Step[]; next: string | null; waiting: Set<string> }>()
const emit = defineEmits<{ tick: [step: Step, state: TickState] }>()
const at = ref(props.next ?? props.steps[0]?.key ?? '')
const index = computed(() =>
  Math.max(
    0,
    props.steps.findIndex((s) => s.key === at.value),
  ),
)
const step = computed(() => props.steps[index.value])
// a tick may take the step away: the next one that is open is shown
watch(
  () => props.steps.map((s) => s.key).join(),
  () => {
    if (!props.steps.some((s) => s.key === at.value)) at.value = props.next ?? props.steps[0]?.key ?? ''
  },
)
const go = (by: number) => (at.value = props.steps[index.value + by]?.key ?? at.value)
function tick(state: TickState) {
  const s = step.value
  if (!s) return
  const after = props.steps.slice(index.value + 1).find((o) => o.open)?.key
  emit('tick', s, state)
  if (state === 'done' && after) at.value = after
}
</script>

<template>
  <article v-if="step" class="one" :data-key="step.key">
    <p class="quiet">
      step {{ index + 1 }} of {{ steps.length }}<template v-if="step.where"> · {{ step.where }}</template> ·
      {{ step.minutes }} min
    </p>
    <h2>{{ step.title }}</h2>
    <p v-if="step.first.length" class="attn">First: {{ step.first.join('; ') }}</p>
    <p v-for="c in step.cautions" :key="c.name" class="caution">{{ c.text }}</p>
    <BackPanels :sockets="step.sockets" />
    <p v-if="step.why" class="quiet">{{ step.why }}</p>
    <p v-if="step.see" class="see"><b>See:</b> {{ step.see }}</p>
    <p v-if="step.if_not"><b>If not:</b> {{ step.if_not }}</p>
    <p v-if="!step.open" class="quiet">
      Done{{ waiting.has(step.key) ? ', kept here and not sent yet' : '' }}.
    </p>
    <div class="row acts">
      <button :disabled="index === 0" @click="go(-1)">Back</button>
      <template v-if="mayEdit()">
        <template v-if="step.open && step.keep">
          <button class="go keep" @click="tick('done')">Picture there: keep</button>
          <button @click="tick('reverted')">It reverted</button>
        </template>
        <button v-else-if="step.open" class="go" @click="tick('done')">Done</button>
        <button v-else @click="tick('undone')">Take back</button>
      </template>
      <button :disabled="index >= steps.length - 1" @click="go(1)">Next</button>
    </div>
  </article>
</template>

<style scoped>
.one {
  max-width: 640px;
  border: 1px solid var(--rule-strong);
  background: var(--plate);
  padding: 14px 16px;
  display: grid;
  gap: 10px;
  font-size: 17px;
}
h2 {
  font-size: 22px;
  line-height: 1.25;
  color: var(--ink);
}
.see {
  font-size: 18px;
}
.caution {
  border-left: 3px solid var(--tight);
  padding-left: 8px;
}
.acts button {
  flex: 1 1 90px;
  min-height: 48px;
  font-size: 16px;
}
</style>
