// A search for a fault: what is answered is kept in this browser until the server has it, each answer once.
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'

import { api, ask, newUid, Problem, type Fault } from '../../api/client'
import { say, tell } from '../../shared/announce'
import { useRunAnswer } from '../../shared/answers'
import { useJob } from '../../shared/job'
import { useOutbox } from '../../shared/outbox'

interface Waiting {
  uid: string
  run: string
  key: string
  value: string
  said_at: string
}

function trailOf(told: Fault, w: Waiting): Fault['trail'][number] {
  const check = [told.next, ...told.more].find((c) => c?.key === w.key)
  const complaint = told.complaints.find((c) => c.key === w.key)
  const value = check?.outcomes.find((o) => o.value === w.value)?.words ?? (complaint ? '' : w.value)
  return {
    uid: '',
    key: w.key,
    kind: check?.kind ?? 'complaint',
    words: check?.words ?? complaint?.words ?? w.key,
    value,
    at: w.said_at,
    by: 'kept here, not sent yet',
    stale: false,
  }
}

export function useFault() {
  const job = useJob()
  const client = useQueryClient()
  const jobUid = job.view?.uid ?? ''
  // kept under the content it is of: the page may not have that yet
  const keep = (run: string, told: Fault) =>
    [job.view?.mark, told.mark].forEach((mark) => client.setQueryData(['fault', jobUid, run, mark], told))
  const at = (run: string) => ({ params: { path: { job_uid: jobUid, run_uid: run } } })

  const { outbox, away, put } = useOutbox<Waiting>(
    `wavilex.fault.${jobUid}`,
    async ({ uid, run, key, value, said_at }) => {
      const body = { uid, key, value, said_at }
      const told = await ask(
        api.POST('/api/v1/jobs/{job_uid}/runs/{run_uid}/fault/answers', { ...at(run), body }),
      )
      keep(run, told)
    },
  )

  const { data, error } = useRunAnswer('fault', (path) =>
    ask(api.GET('/api/v1/jobs/{job_uid}/runs/{run_uid}/fault', { params: { path } })),
  )

  // What is known is painted at once: the answer stands in the trail, and what it leaves was said before the tap.
  const fault = computed<Fault | undefined>(() => {
    const told = data.value
    const mine = outbox.value.filter((w) => w.run === told?.run)
    if (!told || !mine.length) return told
    const waiting = mine.map((w) => ({ ...trailOf(told, w), at: w.said_at }))
    const picked = new Map(mine.map((w) => [w.key, w.uid]))
    const complaints = told.complaints.map((c) => (picked.has(c.key) ? { ...c, picked: c.picked ?? '' } : c))
    return { ...told, complaints, trail: [...told.trail, ...waiting] }
  })
  const noted = computed(() => {
    const last = outbox.value.findLast((w) => w.run === data.value?.run)
    const outcome = data.value?.next?.outcomes.find(
      (o) => data.value?.next?.key === last?.key && o.value === last?.value,
    )
    return last
      ? { words: outcome?.words ?? '', leaves: outcome?.leaves ?? '', share: outcome?.share ?? 0 }
      : null
  })

  // The first answer comes at once, with what is known; then every pair worth trying is run through the model.
  const refining = ref(false)
  watch(data, async (told) => {
    if (!told || told.refined || refining.value) return
    refining.value = true
    try {
      const path = { job_uid: jobUid, run_uid: told.run }
      const call = api.GET('/api/v1/jobs/{job_uid}/runs/{run_uid}/fault', {
        params: { path, query: { whole: true } },
      })
      const whole = { ...(await ask(call)), refined: true }
      // an answer given meanwhile is newer: what is refined then is of before
      const key = ['fault', jobUid, told.run, told.mark]
      if (whole.mark === told.mark && data.value?.mark === told.mark) client.setQueryData(key, whole)
    } catch (problem) {
      if (!(problem instanceof Problem)) throw problem
    } finally {
      refining.value = false
    }
  })

  function answer(key: string, value: string, words: string) {
    const run = job.run?.uid
    if (!run) return
    put({ uid: newUid(), run, key, value, said_at: new Date().toISOString() })
    say(words)
  }

  async function doing(act: (run: string) => Promise<Fault | undefined>, words: string) {
    const run = job.run?.uid
    if (!run) return
    try {
      const told = await act(run)
      if (told) keep(run, told)
      await job.refresh().catch(() => undefined)
      await client.invalidateQueries({ queryKey: ['experience'] })
      tell(words)
    } catch (problem) {
      if (!(problem instanceof Problem)) throw problem
      tell(problem.detail, { bad: true })
    }
  }

  const takeBack = (seen: string) =>
    doing(async (run) => {
      const body = { uid: newUid(), seen }
      await ask(api.POST('/api/v1/jobs/{job_uid}/runs/{run_uid}/not-seen', { ...at(run), body }))
      return undefined
    }, 'Taken back.')

  const close = (cause: string, note: boolean) =>
    doing(
      (run) => {
        const body = { uid: newUid(), cause, note, said_at: new Date().toISOString() }
        return ask(api.POST('/api/v1/jobs/{job_uid}/runs/{run_uid}/fault/close', { ...at(run), body }))
      },
      cause ? 'Kept: it was that. The search is closed.' : 'The search is closed without a cause.',
    )

  const busy = computed(() => outbox.value.length > 0)
  return { fault, noted, error, away, outbox, busy, refining, answer, takeBack, close }
}
