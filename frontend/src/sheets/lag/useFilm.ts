// One film of the session: sent part by part, again from where it broke off; watched while it is read; measured anew
// with every mark. It goes when it is left.
import { computed, onBeforeUnmount, ref, shallowRef, watch, type Ref } from 'vue'

import { api, ask, Problem, type FilmMarks, type FilmState, type FilmTold } from '../../api/client'
import { tell } from '../../shared/announce'

const PART_BYTES = 4 * 1024 * 1024
const TRIES = 4
const AGAIN_MS = 1500
const LOOK_MS = 300
const SETTLED_MS = 120
export const MOST_BYTES = 2 * 1024 ** 3

const unmarked = (): FilmMarks => ({
  taken_fps: null,
  start: null,
  answer: null,
  starts: 'rise',
  answers: 'rise',
  readout_ms: null,
  metres: 0,
  strip: null,
  counter_hz: null,
  second: null,
  dropped: [],
  moved: [],
})

export function useFilm(session: Ref<string>) {
  const film = shallowRef<FilmState | null>(null)
  const told = shallowRef<FilmTold | null>(null)
  const marks = ref<FilmMarks>(unmarked())
  const broken = ref('') // why sending stopped; it can go on
  const measuring = ref(false)
  let file: File | null = null
  let turn = 0
  let asked = 0
  let timer = 0

  const at = (uid: string) => ({ params: { path: { film_uid: uid } } })
  function failed(problem: unknown): string {
    if (!(problem instanceof Problem)) throw problem
    return problem.detail
  }

  async function begin(chosen: File) {
    await leave()
    const mine = ++turn
    file = chosen
    marks.value = unmarked()
    try {
      const begun = await ask(
        api.POST('/api/v1/lag/{session_uid}/films', {
          params: { path: { session_uid: session.value } },
          body: { name: chosen.name, bytes: chosen.size },
        }),
      )
      if (mine !== turn) return
      film.value = begun
      await send()
    } catch (problem) {
      tell(failed(problem), { bad: true })
    }
  }

  // From the byte the server has; a part that is lost is sent again, a few times by itself.
  async function send() {
    const mine = turn
    broken.value = ''
    let tries = 0
    while (file && film.value && film.value.received < film.value.bytes) {
      const offset = film.value.received
      try {
        const next = await ask(
          api.PUT('/api/v1/films/{film_uid}/part', {
            params: { path: { film_uid: film.value.uid }, query: { offset } },
            body: file.slice(offset, offset + PART_BYTES) as unknown as string,
            bodySerializer: (body) => body,
            headers: { 'Content-Type': 'application/octet-stream' },
          }),
        )
        if (mine !== turn) return
        film.value = next
        tries = 0
      } catch (problem) {
        const words = failed(problem)
        if (mine !== turn) return
        if (++tries >= TRIES) {
          broken.value = words
          return
        }
        await new Promise((done) => setTimeout(done, AGAIN_MS))
        await refresh().catch(() => undefined)
        if (mine !== turn) return
      }
    }
    void look()
  }

  async function refresh() {
    const uid = film.value?.uid
    if (!uid) return
    const next = await ask(api.GET('/api/v1/films/{film_uid}', at(uid)))
    if (film.value?.uid === uid) film.value = next
  }

  async function look() {
    const mine = turn
    await refresh().catch((problem: unknown) => (broken.value = failed(problem)))
    if (mine !== turn) return
    if (film.value?.state === 'reading') timer = window.setTimeout(() => void look(), LOOK_MS)
    else if (film.value?.state === 'ready') void measure()
  }

  async function measure() {
    const uid = film.value?.uid
    if (!uid || film.value?.state !== 'ready') return
    const mine = ++asked
    measuring.value = true
    try {
      const next = await ask(api.POST('/api/v1/films/{film_uid}/measure', { ...at(uid), body: marks.value }))
      if (mine === asked && film.value?.uid === uid) told.value = next
    } catch (problem) {
      if (mine === asked) tell(failed(problem), { bad: true })
    } finally {
      if (mine === asked) measuring.value = false
    }
  }
  let settle = 0
  watch(
    marks,
    () => {
      window.clearTimeout(settle)
      settle = window.setTimeout(() => void measure(), SETTLED_MS)
    },
    { deep: true },
  )

  async function leave() {
    const uid = film.value?.uid
    turn++
    asked++
    window.clearTimeout(timer)
    film.value = null
    told.value = null
    broken.value = ''
    if (uid) await ask(api.DELETE('/api/v1/films/{film_uid}', at(uid))).catch(() => undefined)
  }
  onBeforeUnmount(() => void leave())
  watch(session, () => void leave())

  const share = computed(() => {
    const f = film.value
    if (!f) return 0
    return f.state === 'arriving' ? f.received / f.bytes : f.of ? f.done / f.of : 0
  })
  return { film, told, marks, broken, measuring, share, begin, send, leave }
}
