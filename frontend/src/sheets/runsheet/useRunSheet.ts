// The run sheet and its ticks. A tick is kept in this browser until the server has it; sent twice, it counts once.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'

import { api, ask, newUid, type RunSheet, type Step } from '../../api/client'
import { say } from '../../shared/announce'
import { useJob } from '../../shared/job'
import { useOutbox } from '../../shared/outbox'

export type TickState = 'done' | 'reverted' | 'undone'
interface Waiting {
  uid: string
  key: string
  state: TickState
  said_at: string
  title: string
}

export function useRunSheet() {
  const job = useJob()
  const client = useQueryClient()
  const jobUid = job.view?.uid ?? ''
  const queueKey = ['runsheet', jobUid]
  const { outbox, away, put } = useOutbox<Waiting>(
    `wavilex.ticks.${jobUid}`,
    async ({ uid, key, state, said_at }) => {
      const path = { job_uid: jobUid }
      const body = { uid, key, state, said_at }
      const sent = await ask(api.POST('/api/v1/jobs/{job_uid}/ticks', { params: { path }, body }))
      for (const revision of [job.view?.revision, sent.revision])
        client.setQueryData([...queueKey, job.view?.line, revision], sent)
    },
  )

  const { data, error } = useQuery({
    queryKey: computed(() => [...queueKey, job.view?.line, job.view?.revision]),
    queryFn: () => ask(api.GET('/api/v1/jobs/{job_uid}/runsheet', { params: { path: { job_uid: jobUid } } })),
    placeholderData: (old, from) => (from?.queryKey[1] === jobUid ? old : undefined),
  })

  // What waits to be sent is shown as it will be.
  const sheet = computed<RunSheet | undefined>(() => {
    if (!data.value || !outbox.value.length) return data.value
    const waiting = new Map(outbox.value.map((w) => [w.key, w]))
    const seen = (s: Step): Step => {
      const w = waiting.get(s.key)
      return w ? { ...s, open: w.state !== 'done', state: w.state, at: w.said_at } : s
    }
    const phases = data.value.phases.map((p) => ({ ...p, steps: p.steps.map(seen) }))
    const all = phases.flatMap((p) => p.steps)
    return {
      ...data.value,
      phases,
      open: all.filter((s) => s.open).length,
      done: all.filter((s) => !s.open).length,
      next: all.find((s) => s.open)?.key ?? null,
    }
  })

  function tick(step: Step, state: TickState) {
    put({ uid: newUid(), key: step.key, state, said_at: new Date().toISOString(), title: step.title })
    say(`${step.title}: ${state === 'done' ? 'done' : state === 'reverted' ? 'reverted' : 'open again'}`)
  }

  return { sheet, error, outbox, away, tick }
}
