// What a run's boxes will show, and what was seen. What is said is kept in this browser until the server has it.
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { api, ask, newUid, Problem, type Prove, type ReadOutLine, type SeenLine } from '../../api/client'
import { say, tell } from '../../shared/announce'
import { useJobAnswer, useRunAnswer } from '../../shared/answers'
import { useJob } from '../../shared/job'
import { useOutbox } from '../../shared/outbox'

interface Waiting {
  uid: string
  run: string
  said_at: string
  seen: SeenLine[]
}

export function useProve() {
  const job = useJob()
  const client = useQueryClient()
  const jobUid = job.view?.uid ?? ''
  const stage = ref('')
  // An answer is kept under the content it is of: another's change meanwhile asks anew.
  const keep = (run: string, told: Prove) =>
    [job.view?.mark, told.mark].forEach((mark) => client.setQueryData(['prove', jobUid, run, mark, ''], told))
  const { outbox, away, put } = useOutbox<Waiting>(
    `wavilex.seen.${jobUid}`,
    async ({ uid, run, said_at, seen }) => {
      const path = { job_uid: jobUid, run_uid: run }
      const body = { uid, said_at, seen }
      const told = await ask(
        api.POST('/api/v1/jobs/{job_uid}/runs/{run_uid}/seen', { params: { path }, body }),
      )
      keep(run, told)
    },
  )

  const { data, error } = useRunAnswer(
    'prove',
    (path) =>
      ask(
        api.GET('/api/v1/jobs/{job_uid}/runs/{run_uid}/prove', {
          params: { path, query: { stage: stage.value } },
        }),
      ),
    { also: () => [stage.value] },
  )
  // What waits to be sent is shown as it will be; what follows from it comes with the answer.
  const prove = computed<Prove | undefined>(() => {
    const told = data.value
    const mine = outbox.value.filter((w) => w.run === told?.run)
    if (!told || told.stage || !mine.length) return told
    const waiting = new Map(mine.flatMap((w) => w.seen.map((s) => [s.line, { ...s, at: w.said_at }])))
    const overlaid = (x: ReadOutLine): ReadOutLine => {
      const s = waiting.get(x.key)
      if (!s) return x
      const other = { yes: 'no', no: 'yes' }[x.says ?? ''] ?? null
      const observed = s.answer === 'as_predicted' ? x.says : s.observed || other
      const kept = {
        uid: '',
        line: x.key,
        place: '',
        label: x.label,
        at: s.at,
        by: 'kept here, not sent yet',
      }
      const bare = { firmware: '', photo: '', stale: [], before: 0, predicted: x.says }
      return { ...x, seen: { ...kept, ...bare, answer: s.answer, observed, differs: s.answer === 'differs' } }
    }
    return { ...told, cards: told.cards.map((c) => ({ ...c, lines: c.lines.map(overlaid) })) }
  })

  function see(seen: SeenLine[], words: string) {
    const run = job.run?.uid
    if (!run || !seen.length) return
    put({ uid: newUid(), run, said_at: new Date().toISOString(), seen })
    say(words)
  }

  async function takeBack(seen: string) {
    const run = job.run?.uid
    if (!run) return
    try {
      await job.inTurn(async () => {
        const told = await ask(
          api.POST('/api/v1/jobs/{job_uid}/runs/{run_uid}/not-seen', {
            params: { path: { job_uid: jobUid, run_uid: run } },
            body: { uid: newUid(), seen },
          }),
        )
        keep(run, told)
        await job.reread().catch(() => undefined)
      })
      say('Taken back: nobody looked.')
    } catch (problem) {
      if (!(problem instanceof Problem)) throw problem
      tell(problem.detail, { bad: true })
    }
  }

  // A photograph goes first; what it shows is said once it is kept.
  async function photograph(line: string, file: File) {
    try {
      const kept = await ask(
        api.POST('/api/v1/jobs/{job_uid}/photographs', {
          params: { path: { job_uid: jobUid } },
          body: file as unknown as string,
          bodySerializer: (body) => body,
          headers: { 'Content-Type': file.type || 'application/octet-stream' },
        }),
      )
      see([{ line, answer: 'seen', observed: '', photo: kept.name }], 'Photograph kept.')
    } catch (problem) {
      if (!(problem instanceof Problem)) throw problem
      tell(problem.detail, { bad: true })
    }
  }

  // A box that answers over serial or network is asked what it shows.
  const { data: boxes } = useJobAnswer('boxes', (path) =>
    ask(api.GET('/api/v1/jobs/{job_uid}/boxes', { params: { path } })),
  )
  async function fetchFrom(device: string) {
    const run = job.run?.uid
    if (!run) return
    const path = { job_uid: jobUid, run_uid: run, device_uid: device }
    try {
      const { kept, unknown } = await ask(
        api.POST('/api/v1/jobs/{job_uid}/runs/{run_uid}/devices/{device_uid}/fetch', {
          params: { path },
          body: { uid: newUid() },
        }),
      )
      await job.refresh().catch(() => undefined)
      const more = unknown ? `, ${unknown} that this run does not know` : ''
      tell(`${kept} ${kept === 1 ? 'line' : 'lines'} read from the box${more}.`)
    } catch (problem) {
      if (!(problem instanceof Problem)) throw problem
      tell(problem.detail, { bad: true })
    }
  }

  return { prove, error, stage, boxes, outbox, away, see, takeBack, photograph, fetchFrom }
}
