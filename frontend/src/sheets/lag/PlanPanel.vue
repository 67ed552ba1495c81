<script setup lang="ts">
// The plan of the session: what to set before the next cell, which waits for a word; what is taken, what comes next.
import { computed, ref } from 'vue'

import type { LagCell } from '../../api/client'
import { mayEdit } from '../../shared/session'
import PlanForm from './PlanForm.vue'
import { usedLag } from './useLag'

const props = defineProps<{ cell: LagCell; waits: boolean; count: number }>()
const emit = defineEmits<{ pick: [cell: LagCell]; set: [] }>()
const lag = usedLag()
const { session, meter } = lag
const open = ref(false)
const SECONDS = 60
const plan = computed(() => session.value?.plan ?? null)
const next = computed(() => {
  const n = plan.value?.next
  return n == null ? null : (plan.value?.cells[n] ?? null)
})
const left = computed(() => Math.ceil((plan.value?.seconds_left ?? 0) / SECONDS))
const toGo = computed(() => plan.value?.cells.filter((c) => c.taken < c.count).length ?? 0)
const same = (c: LagCell) =>
  c.condition === props.cell.condition &&
  c.signal === props.cell.signal &&
  c.input === props.cell.input &&
  c.position === props.cell.position
function lagOf(c: LagCell): string {
  const told = session.value?.report.conditions.find(
    (x) =>
      x.summary &&
      x.mode === c.condition &&
      x.signal === c.signal &&
      x.input === c.input &&
      x.position === c.position,
  )
  return told?.summary ? `${told.summary.lag_ms.toFixed(1)} ms` : 'taken'
}
const proved = computed(() => session.value?.report.setting_costs.filter((c) => c.proved).length ?? 0)
const leaving = ref(false)
async function finish() {
  if (!next.value) await lag.useCosts()
  await lag.dropPlan()
  leaving.value = false
}
// nothing was set yet: nothing to put back
const drop = () => (plan.value?.back.length && next.value ? (leaving.value = true) : void lag.dropPlan())
</script>

<template>
  <section class="plan" aria-label="Plan">
    <template v-if="plan">
      <div v-if="next && waits && mayEdit() && !leaving" class="plate todo" data-test="to-set">
        <h2>Set this for “{{ next.name }}”</h2>
        <ol v-if="next.to_set.length">
          <li v-for="s in next.to_set" :key="s.words">
            <b>{{ s.words }}</b> <span v-if="s.where" class="quiet">{{ s.where }}</span>
          </li>
        </ol>
        <p v-else class="quiet">Nothing to change, by what was noted of it.</p>
        <button class="go" @click="emit('set')">
          {{ meter && count ? `It is set so: take ${count}` : 'It is set so' }} <kbd>enter</kbd>
        </button>
      </div>
      <div v-else-if="(!next || leaving) && mayEdit()" class="plate todo" data-test="put-back">
        <h2>
          {{
            next ? 'Before the plan is dropped: put back what was set' : 'All taken. Put back what was set'
          }}
        </h2>
        <ol v-if="plan.back.length">
          <li v-for="s in plan.back" :key="s.words">
            <b>{{ s.words }}</b> <span v-if="s.where" class="quiet">{{ s.where }}</span>
          </li>
        </ol>
        <p v-else class="quiet">By what was noted, everything stands as it was found.</p>
        <button class="go" @click="finish">
          {{
            next
              ? 'It is put back: drop the plan'
              : proved
                ? 'It is put back: use what was measured'
                : 'It is put back: end the plan'
          }}
        </button>
        <button v-if="next" class="plain" @click="leaving = false">Go on with it</button>
        <p v-else-if="proved" class="small quiet">
          {{ proved === 1 ? '1 cost goes' : `${proved} costs go` }} to the screen’s own record: titles,
          choices, faults and chains read it from there. It can be undone.
        </p>
      </div>
      <div class="row">
        <h2>
          Plan:
          {{ next ? `${toGo} of ${plan.cells.length} to go, about ${left} min` : 'all taken' }}
        </h2>
        <button
          v-for="(c, n) in plan.cells"
          :key="n"
          class="slight"
          :class="{ on: same(c), full: c.taken >= c.count }"
          :aria-pressed="same(c)"
          @click="
            emit('pick', { condition: c.condition, signal: c.signal, input: c.input, position: c.position })
          "
        >
          {{ c.name }} <span class="fig">{{ c.taken < c.count ? `${c.taken}/${c.count}` : lagOf(c) }}</span>
        </button>
        <button v-if="mayEdit()" class="plain small" @click="drop">Drop the plan</button>
      </div>
    </template>
    <button v-else-if="mayEdit() && !open" class="plain small" @click="open = true">
      Plan the session: what each setting costs, a table of modes and signals, before and after
    </button>
    <PlanForm v-if="open && !plan" @done="open = false" />
  </section>
</template>

<style scoped>
.plan {
  margin-bottom: 8px;
}
.todo {
  padding: 10px 14px;
  margin-bottom: 8px;
  border-left: 5px solid var(--signal);
}
.todo ol {
  margin: 4px 0 8px;
  padding-left: 22px;
}
.on {
  border-color: var(--signal);
  box-shadow: inset 0 -3px 0 var(--signal);
}
.full {
  color: var(--ink-2);
}
</style>
