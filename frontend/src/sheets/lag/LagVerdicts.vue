<script setup lang="ts">
// What the readings say, in the drawer: the difference, each cell against its bound, each kind of title.
import { computed } from 'vue'

import type { LagSession } from '../../api/client'
import { ms, sentence } from '../../shared/words'

const props = defineProps<{ report: LagSession['report'] }>()
const taken = computed(() => props.report.conditions.filter((c) => c.summary ?? c.guess_ms != null))
const open = computed(() => props.report.conditions.filter((c) => !taken.value.includes(c)))
</script>

<template>
  <h2>What the readings say</h2>
  <p class="verdict" data-test="difference">
    {{ report.difference?.sentence ?? 'No reading taken yet in two modes.' }}
  </p>
  <p v-if="report.difference?.note" class="quiet small">{{ report.difference.note }}</p>
  <p v-for="c in report.changes.filter((x) => x.alert)" :key="c.condition" class="attn small">
    {{ c.condition }} has changed: {{ c.sentences.at(-1) }}
  </p>
  <section v-for="c in taken" :key="c.condition" class="judged">
    <h2>{{ c.condition }}</h2>
    <p :class="{ attn: c.verdict === 'over' }">{{ c.sentence }}</p>
    <dl v-if="c.summary">
      <div>
        <dt>{{ c.summary.of }} of {{ c.summary.n }}</dt>
        <dd>{{ ms(c.summary.lag_ms) }}</dd>
      </div>
      <div>
        <dt>its interval, {{ report.level_percent }} %</dt>
        <dd>{{ c.summary.ci_words }}</dd>
      </div>
      <div>
        <dt>lowest, highest</dt>
        <dd>{{ c.summary.low_ms.toFixed(1) }} – {{ ms(c.summary.high_ms) }}</dd>
      </div>
      <div>
        <dt>standard deviation</dt>
        <dd>{{ ms(c.summary.sd_ms) }}</dd>
      </div>
    </dl>
    <p v-if="c.summary" class="small" :class="{ quiet: c.enough }">{{ c.enough_words }}</p>
    <p v-if="c.summary?.steps_words" class="small">{{ sentence(c.summary.steps_words) }}</p>
    <p v-if="c.outliers_words" class="small">{{ c.outliers_words }}</p>
    <p v-if="c.guess_ms != null" class="small quiet">
      A guess beside it, never mixed in: {{ ms(c.guess_ms) }}
    </p>
  </section>
  <section v-if="open.length" class="judged">
    <h2>No reading yet</h2>
    <p class="small quiet">{{ open.map((c) => c.condition).join(', ') }}</p>
  </section>
  <section v-if="report.titles.length" class="judged">
    <h2>For what is played</h2>
    <p v-for="t in report.titles" :key="t.title" class="small" :class="{ attn: t.verdict === 'over' }">
      <b>{{ t.title }}</b><template v-if="t.condition">, in {{ t.condition }}</template
      >: {{ t.sentence }}
    </p>
  </section>
  <p class="src">{{ report.footing }}</p>
</template>

<style scoped>
.verdict {
  font-size: 16.5px;
  line-height: 1.3;
  font-weight: 640;
  margin: 6px 0 8px;
}
.judged {
  border-top: 1px solid var(--rule);
  padding: 8px 0;
}
dl div {
  display: flex;
  justify-content: space-between;
}
dt {
  font-size: 13px;
  color: var(--ink-2);
}
dd {
  font: 13.5px/22px var(--figure);
}
.src {
  font-size: 13px;
  color: var(--ink-3);
  border-top: 1px solid var(--rule);
  padding-top: 8px;
}
</style>
