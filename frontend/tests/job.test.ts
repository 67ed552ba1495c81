import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'

import { api, type View } from '../src/api/client'
import { useJob } from '../src/shared/job'

function view(revision: number, extra: Partial<View> = {}): View {
  const run = { uid: 'r', label: 'Den', verdict: 'blocked', headline: '' }
  return {
    uid: 'j',
    revision,
    runs: [run],
    devices: [],
    leads: [],
    can_undo: null,
    can_redo: null,
    ...extra,
  } as unknown as View
}
const ok = (data: unknown) => ({ data, response: { ok: true, status: 200 } })
const refused = (status: number, body: object) => ({ error: body, response: { ok: false, status } })

describe('the open job', () => {
  beforeEach(() => {
    setActivePinia(createPinia())
    vi.restoreAllMocks()
  })

  async function opened() {
    vi.spyOn(api, 'GET').mockResolvedValue(ok(view(5)) as never)
    const job = useJob()
    await job.open('j')
    return job
  }

  it('drops a late answer of an older revision', async () => {
    const job = await opened()
    vi.spyOn(api, 'GET').mockResolvedValue(ok(view(4)) as never)
    await job.refresh()
    expect(job.view?.revision).toBe(5)
  })

  it('sends the same change with the same uid until the server is back', async () => {
    const job = await opened()
    vi.useFakeTimers()
    const post = vi
      .spyOn(api, 'POST')
      .mockRejectedValueOnce(new TypeError('no network'))
      .mockResolvedValue(ok(view(6)) as never)
    const done = job.change([{ op: 'set_title', value: 'x' }], 'title')
    await vi.advanceTimersByTimeAsync(10)
    expect(job.unreached).toBe(true)
    await vi.advanceTimersByTimeAsync(1200)
    expect(await done).toBe(true)
    vi.useRealTimers()
    const uids = post.mock.calls.map((c) => (c[1] as unknown as { body: { uid: string } }).body.uid)
    expect(uids).toHaveLength(2)
    expect(uids[0]).toBe(uids[1])
    expect(job.unreached).toBe(false)
  })

  it('shows both versions of a clash and can keep mine', async () => {
    const job = await opened()
    const clash = { code: 'clash', detail: '', clashes: [{ path: 'title' }], revision: 7 }
    const post = vi
      .spyOn(api, 'POST')
      .mockResolvedValueOnce(refused(409, clash) as never)
      .mockResolvedValue(ok(view(8)) as never)
    expect(await job.change([{ op: 'set_title', value: 'x' }], 'title')).toBe(false)
    expect(job.clash?.clashes).toHaveLength(1)
    await job.settleClash(true)
    const base = (post.mock.calls[1]![1] as unknown as { body: { base_revision: number } }).body.base_revision
    expect(base).toBe(7)
    expect(job.view?.revision).toBe(8)
  })

  it('tries without changing, and forgets an answer that comes after trying ended', async () => {
    const job = await opened()
    let answer: (value: unknown) => void = () => undefined
    vi.spyOn(api, 'POST').mockReturnValue(new Promise((done) => (answer = done)) as never)
    const trial = job.tryOut([{ op: 'set_title', value: 'x' }], 'a way')
    job.stopTry()
    answer(ok(view(5, { title: 'x' })))
    await trial
    expect(job.ghost).toBeNull()
    expect(job.view?.revision).toBe(5)
  })
})
