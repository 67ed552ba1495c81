<script setup lang="ts">
// A place to look at, drawn as the list that stands there.
import { computed, ref } from 'vue'

import type { ReadCard, SeenLine } from '../../api/client'
import { useJob } from '../../shared/job'
import { mayEdit } from '../../shared/session'
import { shortTime } from '../../shared/words'
import ReadLine from './ReadLine.vue'

const props = defineProps<{ card: ReadCard; number: number; now: boolean; box: string }>()
const emit = defineEmits<{
  fetch: []
  see: [seen: SeenLine[], words: string]
  back: [uid: string]
  photo: [line: string, file: File]
}>()
const job = useJob()
const picker = ref<HTMLInputElement | null>(null)
const parts = computed(() => {
  const found = new Map<string, ReadCard['lines']>()
  for (const x of props.card.lines) found.set(x.part, [...(found.get(x.part) ?? []), x])
  return [...found]
})
const left = computed(() =>
  props.card.lines.filter((x) => x.says !== null && (!x.seen || x.seen.stale.length)),
)
const all = () =>
  emit(
    'see',
    left.value.map((x) => ({ line: x.key, answer: 'as_predicted' as const, observed: '', photo: '' })),
    `${props.card.label}: ${left.value.length} lines as predicted`,
  )
function picked() {
  const file = picker.value?.files?.[0]
  if (file) emit('photo', `${props.card.key}/photo`, file)
  if (picker.value) picker.value.value = ''
}
const src = (name: string) => `/api/v1/jobs/${job.view?.uid ?? ''}/photographs/${name}`
</script>

<template>
  <section class="card" :aria-label="`${card.label}, ${card.place}`">
    <header>
      <span class="no fig" aria-hidden="true">{{ number }}</span>
      <div>
        <h2>{{ card.label }}, {{ card.place }}</h2>
        <p class="small quiet">{{ card.socket }} · {{ card.because }} · {{ card.source_words }}</p>
      </div>
      <span v-if="now && mayEdit()" class="row tools">
        <button v-if="left.length > 1" class="slight" @click="all">All {{ left.length }} as predicted</button>
        <button v-if="box" class="slight" :title="`Ask ${box} what it shows`" @click="emit('fetch')">
          Ask it
        </button>
        <button class="slight" @click="picker?.click()">Photograph</button>
        <input
          ref="picker"
          class="sr"
          type="file"
          accept="image/jpeg,image/png,image/webp"
          capture="environment"
          tabindex="-1"
          :aria-label="`Photograph of ${card.label}, ${card.place}`"
          @change="picked"
        />
      </span>
    </header>
    <template v-for="[part, lines] in parts" :key="part">
      <h3 v-if="part">{{ part }}</h3>
      <ul>
        <ReadLine
          v-for="x in lines"
          :key="x.key"
          :line="x"
          :now="now"
          @see="emit('see', [$event], `${x.label}: ${$event.answer.replace('_', ' ')}`)"
          @back="emit('back', $event)"
        />
      </ul>
    </template>
    <p v-if="card.photos.length" class="photos">
      <a v-for="p in card.photos" :key="p.uid" :href="src(p.photo)" target="_blank" rel="noopener">
        <img
          :src="src(p.photo)"
          :alt="`Photograph of ${card.label}, ${shortTime(p.at, job.view?.time_zone)}`"
          loading="lazy"
        />
      </a>
    </p>
  </section>
</template>

<style scoped>
.card {
  background: var(--plate);
  border: 1px solid var(--rule-strong);
  border-radius: var(--r);
  margin-bottom: 12px;
  max-width: 900px;
  break-inside: avoid;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
  padding: 7px 10px;
}
header > div {
  flex: 1 1 240px;
}
header h2 {
  font-size: 15px;
  color: var(--ink);
}
.no {
  border: 1px solid var(--rule-strong);
  border-radius: var(--r);
  min-width: 24px;
  text-align: center;
  font-weight: 600;
}
h3 {
  font-size: 12.5px;
  font-weight: 650;
  color: var(--ink-2);
  background: var(--sunk);
  padding: 2px 10px;
  border-top: 1px solid var(--rule);
}
ul {
  list-style: none;
  padding: 0;
}
.photos {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  padding: 8px 10px;
  border-top: 1px solid var(--rule);
}
.photos img {
  height: 96px;
  border: 1px solid var(--rule-strong);
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
@media print {
  .tools {
    display: none;
  }
}
</style>
