// A profile being written: its parts as plain data, as the server takes them. Nothing of the trade is judged here.
import { useQuery } from '@tanstack/vue-query'
import { nextTick, ref, watch, type Ref } from 'vue'

import { api, ask, Problem, type Profile } from '../../../api/client'

export interface VideoPart {
  [field: string]: unknown
}
export interface ScanPart {
  sync?: string
  colour?: string
  level?: string
  [figure: string]: unknown
}
export interface TakesPart {
  line_khz: [number, number]
  hz: [number, number]
  interlaced?: boolean
  treats?: string
  syncs?: string[]
  colours?: string[]
}
export interface PortPart {
  id: string
  label: string
  direction: 'in' | 'out'
  note?: string
  kind?: string
  connector?: string
  returns?: string
  video?: VideoPart
  sends?: ScanPart[]
  takes?: TakesPart[]
  source?: string
  [more: string]: unknown
}
export interface SettingPart {
  id: string
  label: string
  options?: { id: string; label: string }[]
  number?: {
    from: number | string
    to: number | string
    step?: number | string
    neutral?: number | string
    unit?: string
  }
  default: string
  kept_by?: string[]
  ports?: string[]
  where?: string
  resync?: boolean
  [more: string]: unknown
}
export interface ConditionPart {
  [form: string]: unknown
}
export interface QuirkPart {
  id: string
  kind: string
  because: string
  when?: ConditionPart
  [more: string]: unknown
}
export interface Draft {
  wavilex_profile: 1
  id: string
  maker: string
  model: string
  role: string
  kind: string
  summary?: string
  panel?: string
  ports: PortPart[]
  video?: VideoPart
  settings?: SettingPart[]
  quirks?: QuirkPart[]
  [more: string]: unknown
}

export const EMPTY: Draft = {
  wavilex_profile: 1,
  id: 'new-box',
  maker: '',
  model: '',
  role: 'screen',
  kind: 'television',
  ports: [{ id: 'hdmi1', label: 'HDMI 1', direction: 'in' }],
  video: {},
  settings: [],
  quirks: [],
}

const MAP = { à: 'a', é: 'e', ö: 'o', ü: 'u' } as Record<string, string>
// A short name of small letters, digits and dashes out of what somebody wrote, unlike any of `taken`.
export function idOf(text: string, taken: string[] = []): string {
  const plain = [...text.toLowerCase()].map((c) => MAP[c] ?? c).join('')
  const base =
    plain
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 34) || 'part'
  let id = base
  for (let n = 2; taken.includes(id); n++) id = `${base}-${n}`
  return id
}

const CHECK_MS = 250

// Checks the draft as it changes; late answers are dropped. `latest` waits for the answer to what stands there now.
export function useCheck(draft: Ref<Draft>): {
  fault: Ref<{ where: string; detail: string } | null>
  profile: Ref<Profile | null>
  latest: () => Promise<Profile | null>
} {
  const fault = ref<{ where: string; detail: string } | null>(null)
  const profile = ref<Profile | null>(null)
  let turn = 0
  let timer = 0
  async function check(mine: number) {
    try {
      const read = await ask(api.POST('/api/v1/gear/check', { body: { data: draft.value } }))
      if (mine !== turn) return
      profile.value = read
      fault.value = null
    } catch (problem) {
      if (!(problem instanceof Problem)) throw problem
      if (mine !== turn) return
      profile.value = null
      fault.value = { where: problem.where, detail: problem.detail }
    }
  }
  watch(
    draft,
    () => {
      const mine = ++turn
      window.clearTimeout(timer)
      timer = window.setTimeout(() => void check(mine), CHECK_MS)
    },
    { deep: true, immediate: true },
  )
  async function latest() {
    await nextTick() // the last edit has been seen
    window.clearTimeout(timer)
    await check(++turn)
    return profile.value
  }
  return { fault, profile, latest }
}

export function useWords() {
  const { data } = useQuery({
    queryKey: ['gear-words'],
    queryFn: () => ask(api.GET('/api/v1/gear/words')),
    staleTime: Infinity,
  })
  return data
}
export type GearWords = NonNullable<ReturnType<typeof useWords>['value']>
