// What somebody began to add: kept while the dialog is closed, cleared once it is added.
import { reactive } from 'vue'

export type Way = 'setup' | 'shelf' | 'class' | 'edid' | 'hand'
interface Begun {
  way: Way
  search: string
  room: string
  chosen: string // a class
  answers: Record<string, string>
  maker: string
  model: string
  edid: string
  text: string // a profile file
}

const EMPTY: Begun = {
  way: 'shelf',
  search: '',
  room: '',
  chosen: '',
  answers: {},
  maker: '',
  model: '',
  edid: '',
  text: '',
}
export const begun = reactive<Begun>({ ...EMPTY, answers: {} })

// The room and the way stay: the next box mostly stands beside the last.
export function clearBegun() {
  const { way, room } = begun
  Object.assign(begun, { ...EMPTY, answers: {}, way, room })
}

const KEY = 'wavilex.starters'
export const startersShown = () => localStorage.getItem(KEY) !== 'hidden'
export const showStarters = (on: boolean) =>
  on ? localStorage.removeItem(KEY) : localStorage.setItem(KEY, 'hidden')

// What a list of boxes is narrowed by.
export const ROLES = [
  { id: '', name: 'all' },
  { id: 'source', name: 'sources' },
  { id: 'repeater', name: 'in between' },
  { id: 'screen', name: 'screens' },
  { id: 'sound', name: 'sound' },
] as const
