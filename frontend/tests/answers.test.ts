import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import { defineComponent, h } from 'vue'

import type { View } from '../src/api/client'
import { useJobAnswer, useRunAnswer } from '../src/shared/answers'
import { useJob } from '../src/shared/job'

const runs = [{ uid: 'den' }, { uid: 'match' }] as unknown as View['runs']
const view = (uid: string, revision: number) =>
  ({ uid, revision, mark: `m${revision}`, runs }) as unknown as View

describe('answers of a run', () => {
  beforeEach(() => setActivePinia(createPinia()))

  // A part that asks, and the questions it asked, answered when the test likes.
  function part(of: 'run' | 'job') {
    const asked: { path: Record<string, string>; give: (words: string) => void }[] = []
    const ask = (path: object) =>
      new Promise<string>((give) => asked.push({ path: path as Record<string, string>, give }))
    const Part = defineComponent({
      setup() {
        const { data, fresh } = of === 'run' ? useRunAnswer('q', ask) : useJobAnswer('q', ask)
        return () => h('p', `${data.value ?? 'nothing'} ${fresh.value ? 'fresh' : 'old'}`)
      },
    })
    const job = useJob()
    job.view = view('a', 1)
    job.runUid = 'den'
    const client = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: Infinity } } })
    const shown = mount(Part, { global: { plugins: [[VueQueryPlugin, { queryClient: client }]] } })
    return { job, asked, shown }
  }

  it('shows the former answer of the same run as old while a newer revision is asked about', async () => {
    const { job, asked, shown } = part('run')
    asked[0]!.give('den at 1')
    await flushPromises()
    expect(shown.text()).toBe('den at 1 fresh')
    job.view = view('a', 2)
    await flushPromises()
    expect(shown.text()).toBe('den at 1 old')
    asked[1]!.give('den at 2')
    await flushPromises()
    expect(shown.text()).toBe('den at 2 fresh')
  })

  it('never shows one run’s answer under another’s name', async () => {
    const { job, asked, shown } = part('run')
    asked[0]!.give('den at 1')
    await flushPromises()
    job.runUid = 'match'
    await flushPromises()
    expect(shown.text()).toBe('nothing old')
    expect(asked[1]!.path).toEqual({ job_uid: 'a', run_uid: 'match' })
  })

  it('keeps a late answer of the former run away from the new one', async () => {
    const { job, asked, shown } = part('run')
    job.runUid = 'match'
    await flushPromises()
    asked[1]!.give('match at 1')
    await flushPromises()
    asked[0]!.give('den at 1')
    await flushPromises()
    expect(shown.text()).toBe('match at 1 fresh')
  })

  it('never shows one job’s answer in another', async () => {
    const { job, asked, shown } = part('job')
    asked[0]!.give('a at 1')
    await flushPromises()
    job.view = view('b', 1)
    await flushPromises()
    expect(shown.text()).toBe('nothing old')
  })
})
