import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'

import { api, type ChangedView, type View } from '../src/api/client'
import { useJob } from '../src/shared/job'

function view(revision: number, extra: Partial<View> = {}): ChangedView {
  const run = { uid: 'r', label: 'Den', verdict: 'blocked', headline: '' }
  return {
    uid: 'j',
    revision,
    line: 'l',
    mark: `m${revision}`,
    runs: [run],
    devices: [],
    leads: [],
    order: { runs: ['r'], devices: [], leads: [] },
    can_undo: null,
    can_redo: null,
    ...extra,
  } as unknown as ChangedView
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
    expect(job.unreached).not.toBe('')
    await vi.advanceTimersByTimeAsync(1200)
    expect(await done).toBe(true)
    vi.useRealTimers()
    const uids = post.mock.calls.map((c) => (c[1] as unknown as { body: { uid: string } }).body.uid)
    expect(uids).toHaveLength(2)
    expect(uids[0]).toBe(uids[1])
    expect(job.unreached).toBe('')
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

  // Answers that the test gives when it likes, in any order.
  function held() {
    const waiting: { path: string; body: Sent; give: (value: unknown) => void }[] = []
    const hold = (method: 'GET' | 'POST') =>
      vi
        .spyOn(api, method)
        .mockImplementation(
          ((_: string, asked: Asked) =>
            new Promise((done) =>
              waiting.push({ path: asked.params.path.job_uid, body: asked.body ?? {}, give: done }),
            )) as never,
        )
    hold('GET')
    hold('POST')
    return waiting
  }
  interface Sent {
    uid?: string
    base_revision?: number
  }
  interface Asked {
    params: { path: { job_uid: string } }
    body?: Sent
  }
  const settled = () => new Promise((done) => setTimeout(done, 0))

  it('never paints one job over another, whichever answers first', async () => {
    const waiting = held()
    const job = useJob()
    void job.open('a')
    const second = job.open('b')
    await settled()
    waiting[1]!.give(ok(view(3, { uid: 'b' })))
    await second
    waiting[0]!.give(ok(view(9, { uid: 'a' })))
    await settled()
    expect([job.view?.uid, job.view?.revision]).toEqual(['b', 3])
  })

  it('keeps an edit for its own job, on that job’s revision, while another is open', async () => {
    const waiting = held()
    const job = useJob()
    const first = job.open('a')
    await settled()
    waiting[0]!.give(ok(view(7, { uid: 'a' })))
    await first
    const edit = job.change([{ op: 'set_title', value: 'x' }], 'title')
    await settled()
    const other = job.open('b')
    await settled()
    waiting[2]!.give(ok(view(40, { uid: 'b' })))
    await other
    waiting[1]!.give(ok(view(8, { uid: 'a' })))
    expect(await edit).toBe(true)
    expect([job.view?.uid, job.view?.revision]).toEqual(['b', 40])
    expect([waiting[1]!.path, waiting[1]!.body.base_revision]).toEqual(['a', 7])
  })

  it('sends an edit that waited with its own job’s revision, not the open one’s', async () => {
    const waiting = held()
    const job = useJob()
    const first = job.open('a')
    await settled()
    waiting[0]!.give(ok(view(7, { uid: 'a' })))
    await first
    void job.change([{ op: 'set_title', value: 'one' }], 'one')
    void job.change([{ op: 'set_title', value: 'two' }], 'two')
    const other = job.open('b')
    await settled()
    const [edit, opened] = [waiting.find((w) => w.body.uid)!, waiting.find((w) => w.path === 'b')!]
    opened.give(ok(view(40, { uid: 'b' })))
    await other
    edit.give(ok(view(8, { uid: 'a' })))
    await settled()
    await settled()
    const later = waiting.filter((w) => w.body.uid).at(-1)!
    expect([later.path, later.body.base_revision]).toEqual(['a', 8])
    later.give(ok(view(9, { uid: 'a' })))
    await settled()
    expect(job.view?.uid).toBe('b')
  })

  it('lays what changed over what was painted, and leaves the rest the very same object', async () => {
    const rows = [{ uid: 'r' }, { uid: 's' }] as unknown as View['runs']
    const order = { runs: ['r', 's'], devices: [], leads: [] }
    vi.spyOn(api, 'GET').mockResolvedValue(ok(view(5, { runs: rows })) as never)
    const job = useJob()
    await job.open('j')
    const changed = { uid: 's', label: 'other' }
    vi.spyOn(api, 'POST').mockResolvedValue(ok({ ...view(6, { runs: [changed] as never }), order }) as never)
    await job.change([{ op: 'set_title', value: 'x' }], 'title')
    expect(job.view?.runs[0]).toBe(rows[0])
    expect(job.view?.runs[1]).toEqual(changed)
  })

  it('reads the job whole when what changed does not fit what is painted', async () => {
    const job = await opened()
    const get = vi
      .spyOn(api, 'GET')
      .mockClear()
      .mockResolvedValue(ok(view(7)) as never)
    const order = { runs: ['r', 'unknown'], devices: [], leads: [] }
    vi.spyOn(api, 'POST').mockResolvedValue(ok({ ...view(6), order }) as never)
    await job.change([{ op: 'set_title', value: 'x' }], 'title')
    expect(get).toHaveBeenCalledOnce()
    expect(job.view?.revision).toBe(7)
  })

  it('paints a lower revision of another line of history, and says whose base an edit has', async () => {
    const job = await opened()
    vi.spyOn(api, 'GET').mockResolvedValue(ok(view(2, { line: 'k', mark: 'n2' })) as never)
    const post = vi
      .spyOn(api, 'POST')
      .mockResolvedValue(refused(409, { code: 'put_back', detail: 'put back' }) as never)
    await job.change([{ op: 'set_title', value: 'x' }], 'title')
    const sent = (post.mock.calls[0]![1] as unknown as { body: { line: string; base_revision: number } }).body
    expect([sent.line, sent.base_revision]).toEqual(['l', 5])
    expect([job.view?.revision, job.view?.line]).toEqual([2, 'k'])
  })

  it('asks before it takes back what somebody else did', async () => {
    vi.spyOn(api, 'GET').mockResolvedValue(ok(view(5, { can_undo: 'title' })) as never)
    const job = useJob()
    await job.open('j')
    const post = vi
      .spyOn(api, 'POST')
      .mockResolvedValueOnce(
        refused(409, { code: 'of_another', detail: '', by: 'vera', label: 'title' }) as never,
      )
      .mockResolvedValueOnce(ok(view(6)) as never)
    await job.step('undo')
    expect(job.others).toEqual({ kind: 'undo', by: 'vera', label: 'title' })
    await job.step('undo', true)
    const bodies = post.mock.calls.map((c) => (c[1] as unknown as { body: object }).body)
    expect(bodies[0]).toMatchObject({ revision: 5, line: 'l', others: false })
    expect(bodies[1]).toMatchObject({ revision: 5, line: 'l', others: true })
    expect([job.others, job.view?.revision]).toEqual([null, 6])
  })

  it('takes back what was said last, though it is still on its way when undo is pressed', async () => {
    vi.spyOn(api, 'GET').mockResolvedValue(ok(view(5)) as never)
    const job = useJob()
    await job.open('j')
    let kept: (value: unknown) => void = () => undefined
    const said = job.inTurn(async () => {
      await new Promise((done) => (kept = done))
      vi.spyOn(api, 'GET').mockResolvedValue(ok(view(6, { can_undo: 'seen' })) as never)
      await job.reread()
    })
    const post = vi.spyOn(api, 'POST').mockResolvedValue(ok(view(7)) as never)
    const undone = job.step('undo')
    await settled()
    expect(post).not.toHaveBeenCalled()
    kept(null)
    await Promise.all([said, undone])
    const body = (post.mock.calls[0]![1] as unknown as { body: object }).body
    expect(body).toMatchObject({ revision: 6 })
    expect(job.view?.revision).toBe(7)
  })
})
