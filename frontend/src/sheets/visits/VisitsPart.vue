<script setup lang="ts">
// Visits: planned, under way, closed; what was done on each; and how often somebody looks in.
import { computed, ref } from 'vue'

import type { Visit } from '../../api/client'
import { useJob } from '../../shared/job'
import { mayEdit } from '../../shared/session'
import { dueWords, shortTime } from '../../shared/words'
import { useVisits } from './useVisits'
import VisitForm from './VisitForm.vue'

const job = useJob()
const { data, error, plan, edit, move, regular } = useVisits()
const editing = ref('')
const days = [30, 90, 180, 365]
const time = (iso: string) => (iso ? shortTime(iso, job.view?.time_zone) : '')
const when = (v: Visit) =>
  v.state === 'planned'
    ? v.planned_for
      ? `planned for ${time(v.planned_for)}`
      : 'planned, no day yet'
    : v.state === 'open'
      ? `under way since ${time(v.opened_at)}`
      : v.state === 'closed'
        ? `${time(v.opened_at)} to ${time(v.closed_at)}`
        : 'dropped'
const due = computed(() => (data.value?.due_in_days == null ? '' : dueWords(data.value.due_in_days)))
const range = (v: Visit) =>
  `visits?part=log&since=${encodeURIComponent(v.opened_at)}&until=${encodeURIComponent(v.closed_at)}`
function setDays(event: Event) {
  const value = (event.target as HTMLSelectElement).value
  void regular(value ? Number(value) : null)
}
const calendar = computed(() => `/api/v1/visits.ics?job_uid=${job.view?.uid ?? ''}`)
</script>

<template>
  <p v-if="error" class="attn" role="alert">{{ error.message }}</p>
  <p v-else-if="!data" class="quiet">Looking up the visits…</p>
  <template v-else>
    <section class="regular row" aria-label="Regular checks">
      <label for="regular">Somebody looks in</label>
      <select id="regular" :value="data.check_days ?? ''" :disabled="!mayEdit()" @change="setDays">
        <option value="">not regularly</option>
        <option v-for="d in days" :key="d" :value="d">every {{ d }} days</option>
        <option v-if="data.check_days && !days.includes(data.check_days)" :value="data.check_days">
          every {{ data.check_days }} days
        </option>
      </select>
      <b v-if="due" :class="{ attn: (data.due_in_days ?? 0) < 0 }">{{ due }}</b>
      <a class="button slight" :href="calendar" download>As a calendar file</a>
    </section>
    <VisitForm v-if="mayEdit()" label="Plan a visit" @save="plan" />
    <p v-if="!data.visits.length" class="empty">
      <b>Nobody has come back yet.</b> Plan a visit and begin it when you are there: the state it finds and
      the state it leaves are kept, and can be held against each other.
    </p>
    <ol class="visits" aria-label="Visits">
      <li v-for="v in data.visits" :key="v.uid" :class="v.state">
        <p class="row">
          <b>{{ v.title || 'Visit' }}</b>
          <span :class="{ on: v.state === 'open' }">{{ when(v) }}</span>
          <span v-if="v.who" class="quiet">{{ v.who }}</span>
        </p>
        <p v-if="v.note" class="note">{{ v.note }}</p>
        <p v-if="v.did.length" class="did">
          <RouterLink :to="range(v)">{{ v.did.map((d) => `${d.count} ${d.name}`).join(', ') }}</RouterLink>
        </p>
        <p v-else-if="v.state === 'open' || v.state === 'closed'" class="quiet small">nothing done yet</p>
        <p v-if="mayEdit()" class="row">
          <button v-if="v.state === 'planned' && !data.open" class="go" @click="move(v.uid, 'open')">
            Begin
          </button>
          <button v-if="v.state === 'open'" class="go" @click="move(v.uid, 'closed')">Close</button>
          <button v-if="v.state === 'closed' && !data.open" class="slight" @click="move(v.uid, 'open')">
            Not closed after all
          </button>
          <button v-if="v.state === 'planned'" class="slight" @click="move(v.uid, 'dropped')">Drop</button>
          <button v-if="v.state === 'dropped'" class="slight" @click="move(v.uid, 'planned')">
            Take up again
          </button>
          <button class="slight" @click="editing = editing === v.uid ? '' : v.uid">
            {{ editing === v.uid ? 'Leave as it is' : 'Edit' }}
          </button>
          <RouterLink
            v-if="v.state === 'closed'"
            class="button slight"
            :to="`visits?part=changed&a=${v.uid}/open&b=${v.uid}/close`"
            >What it changed</RouterLink
          >
          <RouterLink
            v-if="v.state === 'closed'"
            class="button slight"
            :to="`visits?part=changed&a=${v.uid}/close&b=now`"
            >What changed since</RouterLink
          >
        </p>
        <VisitForm
          v-if="editing === v.uid"
          label="Save"
          :visit="v"
          @save="
            (words) => {
              void edit(v.uid, words)
              editing = ''
            }
          "
        />
      </li>
    </ol>
  </template>
</template>

<style scoped>
.regular {
  padding: 8px 0;
  border-bottom: 1px solid var(--rule);
}
.visits {
  list-style: none;
  padding: 0;
  margin: 0;
}
.visits li {
  padding: 9px 0 10px 12px;
  border-bottom: 1px solid var(--rule);
  border-left: 4px solid transparent;
}
.visits li.open {
  border-left-color: var(--signal);
  background: var(--signal-soft);
}
.visits li.dropped b,
.visits li.dropped span {
  color: var(--ink-3);
  text-decoration: line-through;
}
.note {
  white-space: pre-line;
}
.on {
  font-weight: 600;
}
</style>
