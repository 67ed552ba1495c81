<script setup lang="ts">
// The source measures itself: a code for this run, told once; the page it opens sends home what it measures.
import { computed, ref, watch } from 'vue'

import { api, ask, Problem, type OpenedProbe } from '../../api/client'
import { say, tell } from '../../shared/announce'
import { useJobAnswer } from '../../shared/answers'
import { useJob } from '../../shared/job'
import { mayEdit } from '../../shared/session'
import { shortTime } from '../../shared/words'

const job = useJob()
const opened = ref<OpenedProbe | null>(null)
const turn = ref(0)
const { data: probes } = useJobAnswer(
  'probes',
  (path) => ask(api.GET('/api/v1/jobs/{job_uid}/probes', { params: { path } })),
  { also: () => [turn.value] },
)
const live = computed(() => (probes.value ?? []).filter((p) => p.state === 'open'))
const picture = computed(() =>
  opened.value ? `data:image/svg+xml;charset=utf-8,${encodeURIComponent(opened.value.qr_svg)}` : '',
)
const runName = (uid: string) => job.shown?.runs.find((r) => r.uid === uid)?.label ?? uid
watch(
  () => job.run?.uid,
  () => (opened.value = null),
)
async function act(call: () => Promise<void>) {
  try {
    await call()
    turn.value++
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem
    tell(problem.detail, { bad: true })
  }
}
const open = () =>
  act(async () => {
    const path = { job_uid: job.view?.uid ?? '', run_uid: job.run?.uid ?? '' }
    opened.value = await ask(api.POST('/api/v1/jobs/{job_uid}/runs/{run_uid}/probes', { params: { path } }))
    say(`The code is ${opened.value.code.split('').join(' ')}`)
  })
const revoke = (uid: string) =>
  act(async () => {
    const path = { job_uid: job.view?.uid ?? '', uid }
    await ask(api.POST('/api/v1/jobs/{job_uid}/probes/{uid}/revoke', { params: { path } }))
    if (opened.value?.probe.uid === uid) opened.value = null
  })
</script>

<template>
  <section aria-label="Let the source measure itself">
    <h2>Let the source measure itself</h2>
    <p class="small quiet">
      A page in the browser of the source itself counts its frames, tells the size and range of its picture,
      and shows patterns to judge by eye. It needs no account: a code lets it add results to this run and
      nothing else.
    </p>
    <button v-if="mayEdit() && !opened" @click="open">A code for {{ job.run?.label }}</button>
    <div v-if="opened" class="code">
      <p class="fig big">{{ opened.code }}</p>
      <p class="small">Open {{ opened.short }} on the source and type it, or point its camera here:</p>
      <img
        :src="picture"
        alt="The address with the code, as a picture for a camera"
        width="148"
        height="148"
      />
      <p class="small quiet fig address">{{ opened.address }}</p>
      <p v-if="opened.here_only" class="small attn">
        This address is this machine’s own. No other box reaches it: start Wavilex with --lan for that.
      </p>
    </div>
    <ul v-if="live.length">
      <li v-for="p in live" :key="p.uid">
        <span class="small"
          >{{ runName(p.run) }}, {{ p.results }} {{ p.results === 1 ? 'result' : 'results' }}
          <small class="quiet"
            >by {{ p.made_by }}, until {{ shortTime(p.expires_at, job.view?.time_zone) }}</small
          ></span
        >
        <button v-if="mayEdit()" class="slight" @click="revoke(p.uid)">Revoke</button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
section {
  border-top: 1px solid var(--rule-strong);
  margin-top: 14px;
  padding-top: 10px;
}
.big {
  font-size: 25px;
  font-weight: 600;
  letter-spacing: 0.06em;
}
.code {
  display: grid;
  gap: 4px;
  justify-items: start;
}
.code img {
  background: #fff;
  border: 1px solid var(--rule-strong);
}
.address {
  overflow-wrap: anywhere;
}
ul {
  list-style: none;
  padding: 0;
  margin-top: 8px;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  align-items: center;
  border-top: 1px solid var(--rule);
  padding: 4px 0;
}
li small {
  display: block;
}
button {
  margin-top: 6px;
}
</style>
