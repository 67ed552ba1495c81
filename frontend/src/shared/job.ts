// The open job: what the server said, what is only tried, edits on their way.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'

import {
  api,
  ask,
  newUid,
  Problem,
  said,
  type ChangedView,
  type Clash,
  type Op,
  type View,
} from '../api/client'
import { laidOver, onlyHead } from './changed'
import { say, tell } from './announce'
import { painted } from './repaint'

interface Edit {
  uid: string
  job: string // the job it was made on: it goes there, whatever is open by then
  line: string // and the line of history: after a restore it is refused
  ops: Op[]
  label: string
}

interface Known {
  revision: number
  line: string
}
export interface OthersChange {
  kind: 'undo' | 'redo'
  by: string
  label: string
}

const STALE = ['put_back', 'moved_on', 'revision_unknown'] // the page shows what is no more: read again
const RETRY_MS = 1000

export const useJob = defineStore('job', () => {
  const view = shallowRef<View | null>(null)
  const ghost = shallowRef<View | null>(null)
  const ghostLabel = ref('')
  const ghostOps = shallowRef<Op[]>([])
  const runUid = ref('')
  const waiting = ref(0)
  const unreached = ref('') // why the last change is not kept yet
  const clash = shallowRef<{ edit: Edit; clashes: Clash[]; revision: number } | null>(null)
  const others = shallowRef<OthersChange | null>(null) // an undo that would take back what somebody else did
  const latest = new Map<string, Known>() // the newest state seen of every job edited or opened here
  let wanted = '' // the job that was last asked for
  let chain: Promise<unknown> = Promise.resolve()
  let trial = 0

  const shown = computed(() => ghost.value ?? view.value)
  const run = computed(
    () => shown.value?.runs.find((r) => r.uid === runUid.value) ?? shown.value?.runs[0] ?? null,
  )
  const deviceOf = (uid: string) => shown.value?.devices.find((d) => d.uid === uid)

  // Late answers are dropped: only the job that is open is painted, and only newer revisions of it;
  // of another line of history, after a restore, any.
  function paint(next: View) {
    const known = latest.get(next.uid)
    if (known?.line !== next.line || next.revision > known.revision) {
      latest.set(next.uid, { revision: next.revision, line: next.line })
    }
    if (next.uid !== wanted) return
    const same = view.value?.uid === next.uid && view.value.line === next.line
    if (same && view.value && next.revision < view.value.revision) return
    const before = view.value?.uid === next.uid ? view.value : null
    view.value = next
    // a job is opened at its first run, whatever run of another job was looked at last
    if (!before || !next.runs.some((r) => r.uid === runUid.value)) runUid.value = next.runs[0]?.uid ?? ''
    for (const r of next.runs) {
      const old = before?.runs.find((o) => o.uid === r.uid)
      if (old && old.verdict !== r.verdict) say(`${r.label}: ${r.verdict}. ${r.headline}`)
    }
  }

  const read = (uid: string) => ask(api.GET('/api/v1/jobs/{job_uid}', { params: { path: { job_uid: uid } } }))

  async function open(uid: string) {
    wanted = uid
    if (view.value?.uid !== uid) {
      view.value = null
      stopTry()
    }
    paint(await read(uid))
  }

  async function refresh() {
    if (waiting.value || clash.value) return
    await reread()
  }

  async function reread() {
    if (view.value) paint(await read(view.value.uid))
  }

  // What else changes the job (a tick, something seen) takes its turn among the edits: an undo pressed meanwhile takes
  // back that, not what came before it.
  function inTurn<T>(work: () => Promise<T>): Promise<T> {
    const turn = chain.then(work)
    chain = turn.catch(() => undefined)
    return turn
  }

  // What the page knows of a job: the mark of what is painted, if it is open.
  const knownOf = (uid: string) => (view.value?.uid === uid ? view.value.mark : undefined)

  // An answer holds what differs from `known`: laid over that very content, else the job is read whole.
  async function take(next: ChangedView, known: string | undefined): Promise<View> {
    const base = view.value?.uid === next.uid && view.value.mark === known ? view.value : null
    return laidOver(base, next) ?? (next.uid === wanted ? await read(next.uid) : onlyHead(next))
  }

  // Sends one after another; a server that is away is tried again with the same uid, so nothing is done twice.
  async function persist(job: string, send: (known?: string) => Promise<ChangedView>): Promise<boolean> {
    const since = performance.now()
    waiting.value++
    const turn = inTurn(async () => {
      for (;;) {
        try {
          const known = knownOf(job)
          paint(await take(await send(known), known))
          painted(since)
          unreached.value = ''
          return true
        } catch (problem) {
          if (!(problem instanceof Problem)) throw problem
          if (problem.status === 0 || problem.status === 502 || problem.status === 503) {
            unreached.value = problem.status === 503 ? problem.detail : 'The server is not reached.'
            await new Promise((done) => setTimeout(done, RETRY_MS))
            continue
          }
          unreached.value = ''
          throw problem
        }
      }
    })
    try {
      return await turn
    } finally {
      waiting.value--
    }
  }

  const post = (edit: Edit, base?: number) => (known?: string) =>
    ask(
      api.POST('/api/v1/jobs/{job_uid}/changes', {
        params: { path: { job_uid: edit.job }, query: { known } },
        body: {
          base_revision: base ?? latest.get(edit.job)?.revision ?? 0,
          line: edit.line,
          uid: edit.uid,
          ops: edit.ops,
          label: edit.label,
        },
      }),
    )

  async function send(edit: Edit, base?: number): Promise<boolean> {
    if (edit.job === wanted) stopTry()
    try {
      return await persist(edit.job, post(edit, base))
    } catch (problem) {
      if (problem instanceof Problem && problem.code === 'clash') {
        const clashes = (problem.more.clashes ?? []) as Clash[]
        clash.value = { edit, clashes, revision: Number(problem.more.revision) }
      } else if (problem instanceof Problem) {
        if (STALE.includes(problem.code)) await refresh().catch(() => undefined)
        const elsewhere = edit.job === wanted ? '' : `Not kept in the other job, “${edit.label}”. `
        tell(`${elsewhere}${said(problem)}`, { bad: true })
      } else throw problem
      return false
    }
  }

  const change = (ops: Op[], label: string) =>
    send({ uid: newUid(), job: view.value?.uid ?? '', line: view.value?.line ?? '', ops, label })

  async function settleClash(mine: boolean) {
    const open = clash.value
    clash.value = null
    if (!open) return
    if (mine) await send({ ...open.edit, uid: newUid() }, open.revision)
    else await refresh()
  }

  // Takes back one's own latest change, as seen; somebody else's only when asked (`anyway`).
  async function step(kind: 'undo' | 'redo', anyway = false) {
    await chain
    const uid = view.value?.uid ?? ''
    const label = kind === 'undo' ? view.value?.can_undo : view.value?.can_redo
    others.value = null
    if (!label) return
    stopTry()
    const params = { path: { job_uid: uid } }
    const asked = newUid()
    try {
      await persist(uid, (known) => {
        const seen = latest.get(uid)
        const body = { uid: asked, revision: seen?.revision, line: seen?.line ?? '', others: anyway }
        return ask(
          api.POST(`/api/v1/jobs/{job_uid}/${kind}`, { params: { ...params, query: { known } }, body }),
        )
      })
      tell(`${kind === 'undo' ? 'Undone' : 'Done again'}: ${label}`)
    } catch (problem) {
      if (!(problem instanceof Problem)) throw problem
      if (problem.code === 'of_another') {
        others.value = { kind, by: String(problem.more.by), label: String(problem.more.label) }
        return
      }
      if (STALE.includes(problem.code)) await refresh().catch(() => undefined)
      tell(problem.detail, { bad: true })
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
    others,
    open,
    refresh,
    reread,
    inTurn,
    change,
    settleClash,
    step,
    tryOut,
    stopTry,
    deviceOf,
  }
})
