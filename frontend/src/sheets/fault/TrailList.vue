<script setup lang="ts">
// What was answered, oldest first; each can be taken back.
import type { Fault } from '../../api/client'
import { useJob } from '../../shared/job'
import { mayEdit } from '../../shared/session'
import { shortTime } from '../../shared/words'

defineProps<{ trail: Fault['trail'] }>()
const emit = defineEmits<{ back: [uid: string]; close: [] }>()
const job = useJob()
</script>

<template>
  <section class="trail" aria-label="Trail">
    <h2>Trail</h2>
    <ol>
      <li v-for="t in trail" :key="t.uid || t.key" :class="{ stale: t.stale }">
        <span>
          {{ t.words
          }}<template v-if="t.value"
            >: <b>{{ t.value }}</b></template
          >
          <small class="quiet">
            {{ shortTime(t.at, job.view?.time_zone) }}, {{ t.by
            }}{{ t.stale ? '; something it rests on changed since: it counts no more' : '' }}
          </small>
        </span>
        <button v-if="mayEdit() && t.uid" class="slight" @click="emit('back', t.uid)">
          Take back<span class="sr">: {{ t.words }}</span>
        </button>
      </li>
    </ol>
    <button v-if="mayEdit()" class="slight" @click="emit('close')">Close the search without a cause</button>
  </section>
</template>

<style scoped>
.trail {
  max-width: 900px;
  margin-bottom: 14px;
}
ol {
  list-style: none;
  padding: 0;
  margin: 4px 0 8px;
}
li {
  display: flex;
  gap: 10px;
  justify-content: space-between;
  align-items: center;
  border-bottom: 1px solid var(--rule);
  padding: 4px 0;
}
li small {
  display: block;
}
li.stale > span {
  color: var(--ink-3);
  text-decoration: line-through;
}
@media (pointer: coarse) {
  button.slight {
    min-height: 40px;
  }
}
</style>
