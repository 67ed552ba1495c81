// The open job: what the server said, what is only tried, edits on their way.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'

import { api, ask, newUid, Problem, type Clash, type Op, type View } from '../api/client'
import { say, tell } from './announce'
import { painted } from './repaint'

interface Edit {
  uid: string
  ops: Op[]
  label: string
}

const RETRY_MS = 1000

export const useJob = defineStore('job', () => {
  const view = shallowRef<View | null>(null)
  const ghost = shallowRef<View | null>(null)
  const ghostLabel = ref('')
  const ghostOps = shallowRef<Op[]>([])
  const runUid = ref('')
  const waiting = ref(0)
  const unreached = ref(false)
  const clash = shallowRef<{ edit: Edit; clashes: Clash[]; revision: number } | null>(null)
  let chain: Promise<unknown> = Promise.resolve()
  let trial = 0

  const shown = computed(() => ghost.value ?? view.value)
  const run = computed(
    () => shown.value?.runs.find((r) => r.uid === runUid.value) ?? shown.value?.runs[0] ?? null,
  )
  const deviceOf = (uid: string) => shown.value?.devices.find((d) => d.uid === uid)

  // Late answers are dropped: only a newer revision of the same job is painted.
  function paint(next: View) {
    if (view.value?.uid === next.uid && next.revision < view.value.revision) return
    const before = view.value?.uid === next.uid ? view.value : null
    view.value = next
    if (!next.runs.some((r) => r.uid === runUid.value)) runUid.value = next.runs[0]?.uid ?? ''
    for (const r of next.runs) {
      const old = before?.runs.find((o) => o.uid === r.uid)
      if (old && old.verdict !== r.verdict) say(`${r.label}: ${r.verdict}. ${r.headline}`)
    }
  }

  async function open(uid: string) {
    if (view.value?.uid !== uid) {
      view.value = null
      ghost.value = null
    }
    paint(await ask(api.GET('/api/v1/jobs/{job_uid}', { params: { path: { job_uid: uid } } })))
  }

  async function refresh() {
    if (!view.value || waiting.value || clash.value) return
    const uid = view.value.uid
    const next = await ask(api.GET('/api/v1/jobs/{job_uid}', { params: { path: { job_uid: uid } } }))
    if (view.value?.uid === uid) paint(next)
  }

  // Sends one after another; a server that is away is tried again with the same uid, so nothing is done twice.
  async function persist(send: () => Promise<View>): Promise<boolean> {
    const since = performance.now()
    waiting.value++
    const turn = chain.then(async () => {
      for (;;) {
        try {
          paint(await send())
          painted(since)
          unreached.value = false
          return true
        } catch (problem) {
          if (!(problem instanceof Problem)) throw problem
          if (problem.status === 0 || problem.status === 502 || problem.status === 503) {
            unreached.value = true
            await new Promise((done) => setTimeout(done, RETRY_MS))
            continue
          }
          unreached.value = false
          throw problem
        }
      }
    })
    chain = turn.catch(() => undefined)
    try {
      return await turn
    } finally {
      waiting.value--
    }
  }

  async function send(edit: Edit, base?: number): Promise<boolean> {
    const uid = view.value?.uid ?? ''
    stopTry()
    try {
      return await persist(() =>
        ask(
          api.POST('/api/v1/jobs/{job_uid}/changes', {
            params: { path: { job_uid: uid } },
            body: {
              base_revision: base ?? view.value?.revision ?? 0,
              uid: edit.uid,
              ops: edit.ops,
              label: edit.label,
            },
          }),
        ),
      )
    } catch (problem) {
      if (problem instanceof Problem && problem.code === 'clash') {
        const clashes = (problem.more.clashes ?? []) as Clash[]
        clash.value = { edit, clashes, revision: Number(problem.more.revision) }
      } else if (problem instanceof Problem) {
        tell(
          problem.where && !problem.where.startsWith('ops')
            ? `${problem.where}: ${problem.detail}`
            : problem.detail,
          { bad: true },
        )
      } else throw problem
      return false
    }
  }

  const change = (ops: Op[], label: string) => send({ uid: newUid(), ops, label })

  async function settleClash(mine: boolean) {
    const open = clash.value
    clash.value = null
    if (!open) return
    if (mine) await send({ ...open.edit, uid: newUid() }, open.revision)
    else await refresh()
  }

  async function step(kind: 'undo' | 'redo') {
    const uid = view.value?.uid ?? ''
    const label = kind === 'undo' ? view.value?.can_undo : view.value?.can_redo
    if (!label) return
    stopTry()
    const body = { uid: newUid() }
    try {
      await persist(() =>
        ask(api.POST(`/api/v1/jobs/{job_uid}/${kind}`, { params: { path: { job_uid: uid } }, body })),
      )
      tell(`${kind === 'undo' ? 'Undone' : 'Done again'}: ${label}`)
    } catch (problem) {
      if (problem instanceof Problem) tell(problem.detail, { bad: true })
      else throw problem
    }
  }

  async function tryOut(ops: Op[], label: string) {
    const mine = ++trial
    const uid = view.value?.uid ?? ''
    try {
      const tried = await ask(
        api.POST('/api/v1/jobs/{job_uid}/try', { params: { path: { job_uid: uid } }, body: { ops } }),
      )
      if (mine !== trial || view.value?.uid !== uid) return
      ghost.value = tried
      ghostLabel.value = label
      ghostOps.value = ops
      const now = tried.runs.find((r) => r.uid === run.value?.uid)
      if (now) say(`Tried: ${now.label} ${now.verdict}. ${now.headline}`)
    } catch (problem) {
      if (problem instanceof Problem) tell(problem.detail, { bad: true })
      else throw problem
    }
  }

  function stopTry() {
    trial++
    ghost.value = null
    ghostLabel.value = ''
    ghostOps.value = []
  }

  return {
    view,
    ghost,
    ghostLabel,
    ghostOps,
    shown,
    run,
    runUid,
    waiting,
    unreached,
    clash,
    open,
    refresh,
    change,
    settleClash,
    step,
    tryOut,
    stopTry,
    deviceOf,
  }
})
