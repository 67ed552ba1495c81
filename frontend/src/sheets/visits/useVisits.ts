// The visits of the open job, and what is said of them.
import { useQueryClient } from '@tanstack/vue-query'

import { api, ask, newUid, Problem, type VisitIn, type Visits } from '../../api/client'
import { tell } from '../../shared/announce'
import { useJobAnswer } from '../../shared/answers'
import { useJob } from '../../shared/job'

export function useVisits() {
  const job = useJob()
  const client = useQueryClient()
  const { data, error } = useJobAnswer(
    'visits',
    (path) => ask(api.GET('/api/v1/jobs/{job_uid}/visits', { params: { path } })),
    { mounted: 'always' },
  )
  const path = (visit: string) => ({ job_uid: job.view?.uid ?? '', visit_uid: visit })

  async function took(asked: Promise<Visits>, words: string) {
    try {
      const told = await asked
      client.setQueryData(['visits', job.view?.uid, job.view?.mark], told)
      tell(words)
    } catch (problem) {
      if (!(problem instanceof Problem)) throw problem
      tell(problem.detail, { bad: true })
    }
  }
  const plan = (body: Omit<VisitIn, 'uid'>) =>
    took(
      ask(
        api.POST('/api/v1/jobs/{job_uid}/visits', {
          params: { path: { job_uid: job.view?.uid ?? '' } },
          body: { ...body, uid: newUid() },
        }),
      ),
      'The visit is planned.',
    )
  const edit = (uid: string, body: Omit<VisitIn, 'uid'>) =>
    took(
      ask(
        api.PUT('/api/v1/jobs/{job_uid}/visits/{visit_uid}', {
          params: { path: path(uid) },
          body: { ...body, uid },
        }),
      ),
      'Noted.',
    )
  const WORDS = {
    open: 'The visit is under way: the state it found is kept.',
    closed: 'The visit is closed: the state it left is kept.',
    dropped: 'The visit is dropped.',
    planned: 'The visit is planned again.',
  }
  const move = (uid: string, state: keyof typeof WORDS) =>
    took(
      ask(
        api.POST('/api/v1/jobs/{job_uid}/visits/{visit_uid}/state', {
          params: { path: path(uid) },
          body: { state },
        }),
      ),
      WORDS[state],
    )
  const regular = (days: number | null) =>
    took(
      ask(
        api.POST('/api/v1/jobs/{job_uid}/regular', {
          params: { path: { job_uid: job.view?.uid ?? '' } },
          body: { every_days: days },
        }),
      ),
      days ? `Somebody looks in every ${days} days.` : 'No regular checks.',
    )
  return { data, error, plan, edit, move, regular }
}
