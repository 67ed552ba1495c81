<script setup lang="ts">
// Other checks worth making, and what is assumed where nobody noted it.
import { ref } from 'vue'

import type { Fault } from '../../api/client'
import { mayEdit } from '../../shared/session'
import { percent, seconds } from './words'

defineProps<{ fault: Fault }>()
const emit = defineEmits<{ answer: [key: string, value: string, words: string] }>()
const open = ref('')
</script>

<template>
  <section v-if="fault.more.length" aria-label="Other checks" class="more">
    <h2>Other checks</h2>
    <ul>
      <li v-for="c in fault.more" :key="c.key">
        <button class="plain" :aria-expanded="open === c.key" @click="open = open === c.key ? '' : c.key">
          {{ c.words }}
        </button>
        <small class="quiet">{{ seconds(c.seconds) }}, clears up {{ percent(c.clears) }}</small>
        <p v-if="open === c.key" class="row">
          <button
            v-for="o in c.outcomes"
            :key="o.value"
            class="slight"
            :disabled="!mayEdit()"
            @click="emit('answer', c.key, o.value, o.words)"
          >
            {{ o.words }}
          </button>
        </p>
      </li>
    </ul>
  </section>
  <section v-if="fault.assumed.length" aria-label="Assumed" class="more">
    <h2>Taken to stand so, as nobody noted it</h2>
    <ul>
      <li v-for="a in fault.assumed" :key="a" class="small">{{ a }}</li>
    </ul>
    <p class="small quiet">That one of them stands otherwise is among the causes, and a likely one.</p>
  </section>
</template>

<style scoped>
.more {
  margin-bottom: 14px;
}
ul {
  list-style: none;
  padding: 0;
}
li {
  border-bottom: 1px solid var(--rule);
  padding: 3px 0;
}
button.plain {
  white-space: normal;
  text-align: left;
  padding: 2px 0;
  font-size: var(--small);
  display: block;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
button.slight {
  white-space: normal;
  text-align: left;
}
</style>
