<script setup lang="ts">
// One step: tick it, see what it should show, wait if it must be waited for.
import { computed, onBeforeUnmount, ref } from 'vue'

import type { Step } from '../../api/client'
import BackPanels from '../../shared/BackPanels.vue'
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'
import { shortTime } from '../../shared/words'
import type { TickState } from './useRunSheet'

const props = defineProps<{ step: Step; next: boolean; waiting: boolean; prove?: boolean }>()
const emit = defineEmits<{ tick: [state: TickState] }>()
const job = useJob()
const left = ref(0)
let timer = 0
const SECOND = 1000

function wait() {
  left.value = props.step.wait_s
  window.clearInterval(timer)
  timer = window.setInterval(() => {
    left.value--
    if (left.value <= 0) window.clearInterval(timer)
  }, SECOND)
}
onBeforeUnmount(() => window.clearInterval(timer))
const when = computed(() => (props.step.at ? shortTime(props.step.at, job.view?.time_zone) : ''))
</script>

<template>
  <li :class="{ done: !step.open, next }" :data-key="step.key">
    <label v-if="!step.keep" class="tick">
      <input
        type="checkbox"
        :checked="!step.open"
        :disabled="!mayEdit()"
        @change="emit('tick', step.open ? 'done' : 'undone')"
      />
      <span class="title">{{ step.title }}</span>
    </label>
    <div v-else class="tick">
      <input
        type="checkbox"
        :checked="!step.open"
        :disabled="!mayEdit() || step.open"
        :aria-label="`${step.title}: take back`"
        @change="emit('tick', 'undone')"
      />
      <span class="title">{{ step.title }}</span>
    </div>
    <p v-if="!step.open" class="small quiet">
      {{ when }}{{ step.by ? `, ${step.by}` : ''
      }}<template v-if="waiting"> · kept here, not sent yet</template>
    </p>
    <template v-else>
      <p v-if="step.first.length" class="small attn">First: {{ step.first.join('; ') }}</p>
      <p v-if="step.state === 'reverted'" class="small attn">
        It reverted, {{ when }}: evidence that the path does not carry it.
      </p>
      <p class="small quiet">
        <template v-if="step.where">{{ step.where }}, </template>{{ step.stands }} ·
        {{ step.minutes }} min<template v-if="step.why"> · {{ step.why }}</template>
      </p>
      <BackPanels v-if="next" :sockets="step.sockets" />
      <p v-if="step.see && !step.usual" class="small"><b>See:</b> {{ step.see }}</p>
      <p v-if="next && prove" class="small">
        <RouterLink to="prove">Prove: what each box will show, line by line</RouterLink>
      </p>
      <p v-if="step.if_not && !step.usual" class="small quiet"><b>If not:</b> {{ step.if_not }}</p>
      <p v-for="c in step.cautions" :key="c.name" class="small caution">
        {{ c.again ? `${c.name}, as said before` : c.text }}
      </p>
      <p v-if="step.wait_s || step.keep" class="row">
        <button v-if="step.wait_s" class="slight" @click="wait">
          {{ left > 0 ? `${left} s left` : `Wait ${step.wait_s} s` }}
        </button>
        <template v-if="step.keep && mayEdit()">
          <button class="slight keep" @click="emit('tick', 'done')">Picture there: keep</button>
          <button class="slight" @click="emit('tick', 'reverted')">It reverted</button>
        </template>
      </p>
    </template>
  </li>
</template>

<style scoped>
li {
  display: grid;
  gap: 2px;
  padding: 8px 10px 9px;
  border-bottom: 1px solid var(--rule);
}
li.next {
  background: var(--signal-soft);
  border-left: 4px solid var(--signal);
}
.tick {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 34px;
}
.tick input {
  width: 22px;
  height: 22px;
  flex: none;
  accent-color: var(--signal);
  min-height: 0;
}
.title {
  font-weight: 600;
  color: var(--ink);
  font-size: 15px;
  line-height: 1.3;
}
.done .title {
  font-weight: 400;
  color: var(--ink-2);
}
li p {
  padding-left: 32px;
}
.caution {
  border-left: 3px solid var(--tight);
  padding-left: 8px;
  margin-left: 32px;
}
@media (pointer: coarse) {
  .tick {
    min-height: 44px;
  }
  .tick input {
    width: 28px;
    height: 28px;
  }
}
@media print {
  li {
    break-inside: avoid;
  }
  button {
    display: none;
  }
}
</style>
