// What a look showed, sent once and undone like any change.
import { useQueryClient } from '@tanstack/vue-query'

import { api, ask, newUid, Problem, type Recheck } from '../../api/client'
import { tell } from '../../shared/announce'
import { useJob } from '../../shared/job'

type Outcome = 'stays' | 'differs' | 'came_back'
const WORDS: Record<Outcome, string> = {
  stays: 'As before: noted.',
  differs: 'Noted: its menus settle which setting it was.',
  came_back: 'Noted: the run sheet sets it again.',
}

export function useLooks(told: () => Recheck) {
  const job = useJob()
  const client = useQueryClient()
  async function answer(
    key: string,
    outcome: Outcome,
    back: { scope: string; setting: string; value: string }[],
  ) {
    const { device, version } = told()
    const path = { job_uid: job.view?.uid ?? '', device_uid: device }
    const body = { uid: newUid(), version, key, outcome, back, said_at: new Date().toISOString() }
    try {
      await ask(api.POST('/api/v1/jobs/{job_uid}/devices/{device_uid}/update', { params: { path }, body }))
      tell(WORDS[outcome])
    } catch (problem) {
      if (!(problem instanceof Problem)) throw problem
      tell(problem.detail, { bad: true })
    }
    await job.refresh()
    await client.invalidateQueries({ queryKey: ['updates'] })
  }
  return { answer }
}
