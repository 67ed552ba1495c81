<script setup lang="ts">
// One line of a read-out: what it will say, and what somebody says of it.
import { nextTick, ref } from 'vue'

import type { ReadOutLine, SeenLine } from '../../api/client'
import { useJob } from '../../shared/job'
import { mayEdit } from '../../shared/session'
import { shortTime } from '../../shared/words'

const props = defineProps<{ line: ReadOutLine; now: boolean }>()
const emit = defineEmits<{ see: [seen: SeenLine]; back: [uid: string] }>()
const job = useJob()
const asking = ref(false)
const words = ref('')
const field = ref<HTMLInputElement | null>(null)

const send = (answer: SeenLine['answer'], observed = '') =>
  emit('see', { line: props.line.key, answer, observed, photo: '' })
async function differs() {
  if (props.line.says === 'yes' || props.line.says === 'no') return send('differs')
  asking.value = true
  await nextTick()
  field.value?.focus()
}
function wrote() {
  send(props.line.says === null ? 'seen' : 'differs', words.value)
  asking.value = false
  words.value = ''
}
const SIGN: Record<string, string> = { yes: '●', no: '–' }
</script>

<template>
  <li :class="{ differs: line.seen?.differs, stale: line.seen?.stale.length, seen: line.seen }">
    <span class="label"
      >{{ line.label }}
      <small v-if="line.why && (!line.seen || line.seen.differs)" class="quiet">{{ line.why }}</small>
    </span>
    <span class="says fig" :class="line.says ?? 'unknown'">
      <template v-if="line.says === null">cannot be told</template>
      <template v-else
        ><span v-if="SIGN[line.says]" aria-hidden="true">{{ SIGN[line.says] }}</span>
        {{ line.says }}</template
      >
      <small v-if="line.says !== null && !line.sure" class="guess">not sure</small>
    </span>
    <span class="taps">
      <span v-if="line.seen" class="told">
        <b class="word">{{
          line.seen.stale.length
            ? 'seen before it changed'
            : line.seen.differs
              ? `shows ${line.seen.observed ?? 'something else'}`
              : line.seen.answer === 'as_predicted'
                ? 'as predicted'
                : (line.seen.observed ?? 'seen')
        }}</b>
        <small class="quiet"
          >{{ shortTime(line.seen.at, job.view?.time_zone) }}, {{ line.seen.by
          }}{{ line.seen.firmware ? `, firmware ${line.seen.firmware}` : '' }}</small
        >
        <small v-for="c in line.seen.stale" :key="c.what" class="changed"
          >{{ c.what }}: was {{ c.was }}, now {{ c.now
          }}{{ c.since ? `, since ${shortTime(c.since, job.view?.time_zone)}` : '' }}</small
        >
      </span>
      <span v-if="now && mayEdit() && !asking" class="row">
        <template v-if="!line.seen || line.seen.stale.length">
          <button v-if="line.says !== null" class="slight" @click="send('as_predicted')">As predicted</button>
          <button class="slight" @click="differs">
            {{ line.says === null ? 'Write it down' : 'Differs' }}
          </button>
          <template v-if="line.says === null && line.listed">
            <button class="slight" @click="send('seen', 'yes')">Listed</button>
            <button class="slight" @click="send('seen', 'no')">Missing</button>
          </template>
        </template>
        <button
          v-if="line.seen?.uid"
          class="slight"
          :aria-label="`${line.label}: not looked`"
          @click="emit('back', line.seen.uid)"
        >
          Not looked
        </button>
      </span>
      <form v-if="asking" class="row" @submit.prevent="wrote">
        <input
          ref="field"
          v-model="words"
          maxlength="200"
          :aria-label="`${line.label}: what does it show?`"
          placeholder="what does it show?"
          @keydown.esc="asking = false"
        />
        <button class="slight">Keep</button>
      </form>
    </span>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(86px, 0.55fr) minmax(190px, 0.9fr);
  gap: 2px 10px;
  align-items: center;
  padding: 3px 10px;
  min-height: 38px;
  border-top: 1px solid var(--rule);
}
li.seen {
  background: var(--signal-soft);
}
li.stale {
  background: none;
}
li.differs {
  background: var(--blocked-soft);
}
.label small,
.changed {
  display: block;
  line-height: 1.25;
}
.says {
  font-size: 13.5px;
}
.says.no,
.says.unknown {
  color: var(--ink-2);
}
.says.yes {
  color: var(--ink);
  font-weight: 600;
}
.guess {
  display: block;
  font-family: var(--body);
  color: var(--tight);
}
.taps {
  display: flex;
  gap: 1px 8px;
  align-items: center;
  justify-content: space-between;
}
.told {
  display: grid;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.row input {
  min-width: 0;
  flex: 1 1 120px;
}
.differs .word {
  color: var(--blocked);
}
.changed {
  color: var(--tight);
}
@media (max-width: 700px) {
  li {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .taps {
    grid-column: 1/-1;
  }
}
@media (pointer: coarse) {
  button.slight {
    min-height: 40px;
  }
}
@media print {
  button,
  form {
    display: none;
  }
}
</style>
