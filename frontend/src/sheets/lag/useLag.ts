// The lag session of a screen: opened, polled for new readings while a meter reads, never painted over by late answers.
import { computed, inject, onBeforeUnmount, ref, shallowRef, watch, type InjectionKey, type Ref } from 'vue'

import { api, ask, Problem, type LagCell, type LagSession, type PlanIn, type Reading } from '../../api/client'
import type { components } from '../../api/schema'
import { sendOnce } from '../../api/once'
import { watched } from '../../api/watched'
import { tell } from '../../shared/announce'

type Bodies = components['schemas']
type HandReading = Omit<Bodies['HandReading'], keyof LagCell | 'uid'>
type AskedIn = Bodies['AskedIn']
type TableTaken = Bodies['ReadingsTaken']
const FAST_MS = 250
const SLOW_MS = 3000

export function useLag(jobUid: Ref<string>, device: Ref<string>, mayOpen: boolean) {
  const session = shallowRef<LagSession | null>(null)
  const readings = shallowRef<Reading[]>([])
  const failed = ref('')
  let timer = 0
  let turn = 0 // of the session that is open
  let round = 0 // of the polls: an answer from before the latest act or poll is dropped

  const meter = computed(() => session.value?.meters[0] ?? null)
  const busy = computed(
    () =>
      meter.value?.session === session.value?.uid &&
      ['connecting', 'reading', 'lost'].includes(meter.value?.state ?? ''),
  )

  function take(next: LagSession, whole: boolean) {
    session.value = next
    if (whole) readings.value = next.readings
    else if (next.readings.length) {
      const known = new Set(readings.value.map((r) => r.seq))
      readings.value = [...readings.value, ...next.readings.filter((r) => !known.has(r.seq))]
    }
  }

  async function guarded<T>(call: () => Promise<T>): Promise<T | null> {
    try {
      const done = await call()
      failed.value = ''
      return done
    } catch (problem) {
      if (!(problem instanceof Problem)) throw problem
      if (problem.status === 0) failed.value = 'The server is not reached; readings taken so far are kept.'
      else tell(problem.detail, { bad: true })
      return null
    }
  }

  async function open() {
    const mine = ++turn
    session.value = null
    readings.value = []
    if (!jobUid.value || !device.value) return
    const path = { job_uid: jobUid.value }
    let found: LagSession | null = null
    if (mayOpen) {
      found = await guarded(() =>
        ask(api.POST('/api/v1/jobs/{job_uid}/lag', { params: { path }, body: { device: device.value } })),
      )
    } else {
      const rows = await guarded(() => ask(api.GET('/api/v1/jobs/{job_uid}/lag', { params: { path } })))
      const uid = rows?.find((r) => r.device === device.value)?.uid
      if (uid)
        found = await guarded(() =>
          ask(api.GET('/api/v1/lag/{session_uid}', { params: { path: { session_uid: uid } } })),
        )
    }
    if (found && mine === turn) take(found, true)
  }

  async function poll() {
    const mine = ++round
    const uid = session.value?.uid
    if (uid && document.visibilityState === 'visible') {
      const after = readings.value.at(-1)?.seq ?? 0
      const next = await guarded(() =>
        ask(
          api.GET('/api/v1/lag/{session_uid}', { params: { path: { session_uid: uid }, query: { after } } }),
        ),
      )
      if (mine !== round) return
      if (next && session.value?.uid === uid) take(next, false)
    }
    later()
  }
  function later() {
    window.clearTimeout(timer)
    timer = window.setTimeout(() => void poll(), busy.value ? FAST_MS : SLOW_MS)
  }

  async function act(call: (uid: string) => Promise<LagSession>): Promise<boolean> {
    const uid = session.value?.uid
    if (!uid) return false
    const next = await guarded(() => call(uid))
    round++
    if (next && session.value?.uid === uid) take(next, true)
    later()
    return next !== null
  }
  const at = (uid: string) => ({ params: { path: { session_uid: uid } } })
  const accept = () => act((uid) => ask(api.POST('/api/v1/lag/{session_uid}/warning', at(uid))))
  const addCondition = (condition: string) =>
    act((uid) => ask(api.POST('/api/v1/lag/{session_uid}/conditions', { ...at(uid), body: { condition } })))
  const keep = (cell: LagCell, reading: HandReading) =>
    act((uid) => {
      const body = { ...cell, ...reading }
      return sendOnce(`${uid} ${JSON.stringify(body)}`, (sent) =>
        ask(api.POST('/api/v1/lag/{session_uid}/readings', { ...at(uid), body: { ...body, uid: sent } })),
      )
    })
  const plan = (wanted: PlanIn) =>
    act((uid) => ask(api.POST('/api/v1/lag/{session_uid}/plan', { ...at(uid), body: wanted })))
  const sayState = (said: Bodies['StateIn']) =>
    act((uid) => ask(api.POST('/api/v1/lag/{session_uid}/states', { ...at(uid), body: said })))
  const setReady = (cell: number) =>
    act((uid) => ask(api.POST('/api/v1/lag/{session_uid}/ready', { ...at(uid), body: { cell } })))
  // Proved costs go to the screen's record, as one change of the job.
  const useCosts = () => act((uid) => ask(api.POST('/api/v1/lag/{session_uid}/use', at(uid))))
  const dropPlan = () => act((uid) => ask(api.DELETE('/api/v1/lag/{session_uid}/plan', at(uid))))
  // What the session is held against; what is not said stays as it is.
  const holdAgainst = (change: Partial<AskedIn>) => {
    const s = session.value
    const now = {
      baseline: s?.report.baseline ?? '',
      bound_ms: s?.bound_ms ?? null,
      equivalence_ms: s?.equivalence_ms ?? 2,
      strobes: s?.strobes ?? false,
    }
    return act((uid) =>
      ask(api.POST('/api/v1/lag/{session_uid}/asked', { ...at(uid), body: { ...now, ...change } })),
    )
  }
  // Accepted presses of a film, as readings of a cell.
  const keepFilm = (film: string, body: Bodies['KeepFilm']) =>
    act((uid) =>
      sendOnce(`${uid} ${film} ${JSON.stringify(body)}`, (sent) =>
        ask(
          api.POST('/api/v1/films/{film_uid}/keep', {
            params: { path: { film_uid: film } },
            body: { ...body, uid: sent },
          }),
        ),
      ),
    )
  // The film's sound against its picture, into the sums of a run.
  const useSound = (film: string, body: Bodies['UseSound']) =>
    act(() => ask(api.POST('/api/v1/films/{film_uid}/sound', { params: { path: { film_uid: film } }, body })))
  async function takeTable(text: string, going: (share: number) => void): Promise<TableTaken | null> {
    const uid = session.value?.uid
    if (!uid) return null
    const told = await guarded(() =>
      sendOnce(`${uid} ${text}`, (sent) =>
        ask(
          api.POST('/api/v1/lag/{session_uid}/readings.csv', {
            ...at(uid),
            body: { text, uid: sent },
            fetch: watched(going),
          }),
        ),
      ),
    )
    if (told && session.value?.uid === uid) take(told.session, true)
    return told
  }
  const discard = (seq: number, reason: string) =>
    act((uid) =>
      ask(
        api.POST('/api/v1/lag/{session_uid}/readings/{seq}/discard', {
          params: { path: { session_uid: uid, seq } },
          body: { reason },
        }),
      ),
    )
  const removeDiscarded = () => act((uid) => ask(api.DELETE('/api/v1/lag/{session_uid}/readings', at(uid))))
  async function start(cell: LagCell, count: number, settle: boolean) {
    const uid = session.value?.uid
    const name = meter.value?.meter
    if (!uid || !name) return
    const begun = await guarded(() =>
      ask(
        api.POST('/api/v1/lag/{session_uid}/take', {
          ...at(uid),
          body: { meter: name, ...cell, count, settle },
        }),
      ),
    )
    if (begun) quicken()
  }
  async function stop() {
    const name = meter.value?.meter
    if (name) await guarded(() => ask(api.POST('/api/v1/meters/stop', { body: { meter: name } })))
    quicken()
  }
  function quicken() {
    window.clearTimeout(timer)
    void poll()
  }

  watch([jobUid, device], () => void open(), { immediate: true })
  timer = window.setTimeout(() => void poll(), FAST_MS)
  onBeforeUnmount(() => {
    turn++
    round++
    window.clearTimeout(timer)
  })
  return {
    session,
    readings,
    meter,
    busy,
    failed,
    accept,
    addCondition,
    keep,
    plan,
    dropPlan,
    sayState,
    setReady,
    useCosts,
    holdAgainst,
    keepFilm,
    useSound,
    takeTable,
    removeDiscarded,
    discard,
    start,
    stop,
  }
}
export type Lag = ReturnType<typeof useLag>
export const LAG: InjectionKey<Lag> = Symbol('lag')
export function usedLag(): Lag {
  const lag = inject(LAG)
  if (!lag) throw new Error('the lag bench is not open')
  return lag
}
