<script setup lang="ts">
import { mayEdit } from '../../shared/session'
import { useJob } from '../../shared/job'

const job = useJob()
const QUESTIONS = [
  ['played', 'What is played, and how competitively?', 'Racing in the evenings; one league night a week'],
  ['light', 'What light? Daylight, glare, seat angle', 'North window behind the sofa'],
  ['must_stay', 'Which boxes must stay?', 'The receiver and its speakers'],
  ['wall_leads', 'Which leads are in the wall?', 'Screen to cupboard, 8 m, print not readable'],
  ['sound', 'What sound is there?', 'A bar under the screen, on the return channel'],
  ['annoys', 'What annoys today?', 'The picture goes black when a title starts'],
] as const

function keep(key: string, event: Event) {
  const value = (event.target as HTMLTextAreaElement).value
  if (value !== job.view?.survey[key]) void job.change([{ op: 'set_survey', key, value }], 'survey')
}
</script>

<template>
  <section aria-label="Survey">
    <h2>Survey</h2>
    <div class="grid">
      <div v-for="[key, question, example] in QUESTIONS" :key="key">
        <label :for="`survey-${key}`">{{ question }}</label>
        <textarea
          :id="`survey-${key}`"
          rows="2"
          maxlength="1000"
          :value="job.shown?.survey[key]"
          :placeholder="example"
          :disabled="!mayEdit()"
          @change="keep(key, $event)"
        ></textarea>
      </div>
    </div>
  </section>
</template>

<style scoped>
section {
  margin-bottom: 18px;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(260px, 1fr));
  gap: 8px 14px;
  margin-top: 6px;
}
textarea::placeholder {
  color: var(--ink-3);
  opacity: 1;
}
</style>
