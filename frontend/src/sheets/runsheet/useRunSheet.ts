// The run sheet and its ticks. A tick is kept in this browser until the server has it; sent twice, it counts once.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'

import { api, ask, newUid, Problem, type RunSheet, type Step } from '../../api/client'
import { say, tell } from '../../shared/announce'
import { useJob } from '../../shared/job'

export type TickState = 'done' | 'reverted' | 'undone'
interface Waiting {
  uid: string
  key: string
  state: TickState
  said_at: string
  title: string
}

const RETRY_MS = 3000
const AWAY = [0, 502, 503, 504]

export function useRunSheet() {
  const job = useJob()
  const client = useQueryClient()
  const jobUid = job.view?.uid ?? ''
  const queueKey = ['runsheet', jobUid]
  const outbox = useLocalStorage<Waiting[]>(`wavilex.ticks.${jobUid}`, [])
  const away = ref(false)
  let sending = false
  let timer = 0

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

  async function flush() {
    if (sending) return
    sending = true
    window.clearTimeout(timer)
    try {
      while (outbox.value[0]) {
        const { uid, key, state, said_at } = outbox.value[0]
        const body = { uid, key, state, said_at }
        try {
          const sent = await ask(
            api.POST('/api/v1/jobs/{job_uid}/ticks', { params: { path: { job_uid: jobUid } }, body }),
          )
          away.value = false
          // before it leaves the outbox the sheet shown must hold it, or the step would jump open until the next read
          for (const revision of [job.view?.revision, sent.revision])
            client.setQueryData([...queueKey, job.view?.line, revision], sent)
          outbox.value = outbox.value.filter((w) => w.uid !== uid)
          await job.refresh().catch(() => undefined)
        } catch (problem) {
          if (!(problem instanceof Problem)) throw problem
          if (AWAY.includes(problem.status)) {
            away.value = true
            timer = window.setTimeout(() => void flush(), RETRY_MS)
            return
          }
          outbox.value = outbox.value.filter((w) => w.uid !== uid)
          tell(problem.detail, { bad: true })
        }
      }
    } finally {
      sending = false
    }
  }

  function tick(step: Step, state: TickState) {
    outbox.value = [
      ...outbox.value,
      { uid: newUid(), key: step.key, state, said_at: new Date().toISOString(), title: step.title },
    ]
    say(`${step.title}: ${state === 'done' ? 'done' : state === 'reverted' ? 'reverted' : 'open again'}`)
    void flush()
  }

  onMounted(() => {
    window.addEventListener('online', flush)
    void flush()
  })
  onBeforeUnmount(() => {
    window.removeEventListener('online', flush)
    window.clearTimeout(timer)
  })
  return { sheet, error, outbox, away, tick }
}
