// A screen's light: asked for, noted, dropped; a meter watched while the sheet is open. Late answers are dropped.
import { useQueryClient } from '@tanstack/vue-query'
import { computed, inject, onBeforeUnmount, ref, watch as watchRef, type InjectionKey } from 'vue'

import {
  api,
  ask,
  newUid,
  Problem,
  type BeforeMeter,
  type LightAnswer,
  type LightMoment,
  type LightNote,
} from '../../api/client'
import { say, tell } from '../../shared/announce'
import { useJobAnswer } from '../../shared/answers'
import { useJob } from '../../shared/job'

const LOOK_MS = 250

export function useLight() {
  const job = useJob()
  const client = useQueryClient()
  const picked = ref('') // a screen chosen here; else the chosen run's
  const screen = computed(
    () => picked.value || (job.shown?.runs.find((r) => r.uid === job.run?.uid)?.sink ?? ''),
  )
  const params = (job_uid: string) => ({ path: { job_uid }, query: { screen: screen.value } })
  const { data, error } = useJobAnswer(
    'light',
    (path) => ask(api.GET('/api/v1/jobs/{job_uid}/light', { params: params(path.job_uid) })),
    { also: () => [screen.value] },
  )
  const light = computed(() => data.value?.screen ?? null)
  const meters = computed(() => data.value?.meters ?? [])

  const kept = ref('') // what was done last, said beside the meter
  async function doing(call: (uid: string) => Promise<LightAnswer>, words: string): Promise<boolean> {
    const uid = job.view?.uid ?? ''
    try {
      const told = await call(uid)
      client.setQueryData(['light', uid, told.mark, screen.value], told)
      await job.refresh().catch(() => undefined)
      kept.value = words
      say(words) // no bar: it would lie over the meter; undo stands in the head
      return true
    } catch (problem) {
      if (!(problem instanceof Problem)) throw problem
      tell(problem.detail, { bad: true })
      return false
    }
  }
  const note = (notes: LightNote[], words: string) =>
    doing((uid) => {
      const body = { uid: newUid().slice(0, 30), notes, said_at: new Date().toISOString() }
      return ask(api.POST('/api/v1/jobs/{job_uid}/light', { params: params(uid), body }))
    }, words)
  const drop = (held: string) =>
    doing((uid) => {
      const body = { uid: newUid(), note: held }
      return ask(api.POST('/api/v1/jobs/{job_uid}/light/drop', { params: params(uid), body }))
    }, 'Taken out.')
  const takeTable = (text: string) =>
    doing((uid) => {
      const body = { uid: newUid().slice(0, 30), text, said_at: new Date().toISOString() }
      return ask(api.POST('/api/v1/jobs/{job_uid}/light.csv', { params: { path: { job_uid: uid } }, body }))
    }, 'The readings are kept.')

  // One meter at a time, looked through as long as something stands before it.
  const moment = ref<LightMoment | null>(null)
  const before = ref<Omit<BeforeMeter, 'meter'> | null>(null) // what stands before the meter
  let timer = 0
  let turn = 0
  // what was seen was of what stood there before
  watchRef(before, () => {
    if (moment.value) moment.value = { ...moment.value, settled: false, light: null, message: 'Looking…' }
  })
  async function look(name: string) {
    const mine = turn
    try {
      const asked = before.value
      if (asked) {
        const path = { job_uid: job.view?.uid ?? '' }
        const body = { ...asked, meter: name }
        const seen = await ask(api.POST('/api/v1/jobs/{job_uid}/light/look', { params: { path }, body }))
        if (mine === turn && asked === before.value) moment.value = seen
      }
    } catch (problem) {
      if (!(problem instanceof Problem)) throw problem
      if (mine === turn) {
        moment.value = { ...NOTHING, meter: name, state: 'failed', message: problem.detail }
        return
      }
    }
    if (mine === turn && moment.value?.state !== 'failed')
      timer = window.setTimeout(() => void look(name), LOOK_MS)
  }
  function watch(name: string) {
    turn++
    window.clearTimeout(timer)
    moment.value = { ...NOTHING, meter: name, state: 'connecting', message: 'Looking for the meter.' }
    void look(name)
  }
  function stop() {
    const name = moment.value?.meter
    turn++
    window.clearTimeout(timer)
    moment.value = null
    if (name)
      void ask(api.POST('/api/v1/light-meters/{name}/let-go', { params: { path: { name } } })).catch(
        () => undefined,
      )
  }
  onBeforeUnmount(() => {
    if (moment.value) stop()
  })
  return { light, error, meters, screen, picked, note, drop, takeTable, kept, moment, before, watch, stop }
}
const NOTHING: LightMoment = {
  meter: '',
  state: 'idle',
  message: '',
  light: null,
  error_percent: null,
  x: null,
  y: null,
  settled: false,
  ref: '',
}
export type Light = ReturnType<typeof useLight>
export const LIGHT: InjectionKey<Light> = Symbol('light')
export function usedLight(): Light {
  const light = inject(LIGHT)
  if (!light) throw new Error('the light sheet is not open')
  return light
}
