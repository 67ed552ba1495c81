// Answers about the open job or its chosen run, tied to both and to the content as it is.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { useJob } from './job'

interface More {
  also?: () => unknown[] // what else the question depends on
  enabled?: () => boolean
  mounted?: 'always' // ask again whenever it is shown
}

// While a newer state is asked about, the former answer stands; never that of another job or run.
function useAnswer<T>(name: string, owner: () => string[], ask: () => Promise<T>, more: More) {
  const job = useJob()
  const key = computed(() => [name, ...owner(), job.view?.mark, ...(more.also?.() ?? [])])
  const query = useQuery<T>({
    queryKey: key,
    queryFn: ask,
    enabled: computed(() => owner().every(Boolean) && (more.enabled?.() ?? true)),
    placeholderData: (old, from) =>
      owner().every((uid, n) => from?.queryKey[n + 1] === uid) ? old : undefined,
    ...(more.mounted ? { refetchOnMount: more.mounted } : {}),
  })
  // fresh: the answer is of what is shown now, so its ways may be taken
  const fresh = computed(() => !query.isPlaceholderData.value && query.data.value !== undefined)
  return {
    data: query.data,
    error: query.error,
    isFetched: query.isFetched,
    isFetching: query.isFetching,
    fresh,
  }
}

export interface RunPath {
  job_uid: string
  run_uid: string
}

export function useRunAnswer<T>(name: string, ask: (path: RunPath) => Promise<T>, more: More = {}) {
  const job = useJob()
  const path = () => ({ job_uid: job.view?.uid ?? '', run_uid: job.run?.uid ?? '' })
  return useAnswer(
    name,
    () => Object.values(path()),
    () => ask(path()),
    more,
  )
}

export function useJobAnswer<T>(
  name: string,
  ask: (path: { job_uid: string }) => Promise<T>,
  more: More = {},
) {
  const job = useJob()
  const path = () => ({ job_uid: job.view?.uid ?? '' })
  return useAnswer(
    name,
    () => Object.values(path()),
    () => ask(path()),
    more,
  )
}
