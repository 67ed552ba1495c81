// The question of a link without a job, as its address holds it; and as the API takes it.
import type { components } from '../../api/schema'

export const START = {
  out: 'frl:4x12',
  inp: 'frl:4x10',
  grade: 'ultra',
  m: '2',
  build: 'unknown',
  power: 'port',
  turned: '',
  proved: '',
  failed: '',
  timing: 'vic:118',
  derived: '',
  encoding: 'rgb',
  bits: '10',
  audio: '2ch',
  dsc: '',
  bpp: '',
  chunk: '',
}
export type Question = typeof START
type Asked = components['schemas']['ScratchIn']

export function questionOf(query: Record<string, unknown>): Question {
  const q = { ...START }
  for (const key of Object.keys(q) as (keyof Question)[]) {
    const value = query[key]
    if (typeof value === 'string') q[key] = value
  }
  return q
}

// Only what differs from the start is worth a place in an address.
export function queryOf(q: Question): Record<string, string> {
  const entries = Object.entries(q) as [keyof Question, string][]
  return Object.fromEntries(entries.filter(([key, value]) => value !== START[key]))
}

// Slices × MHz, any bits a pixel, the field that bounds a line's bytes; `1` stood for the usual once.
function compressionOf(q: Question): string {
  if (!q.dsc) return 'none'
  const slices = q.dsc === '1' ? '8x340' : q.dsc
  return [slices, ...(q.bpp ? ['all'] : []), ...(q.chunk ? [`chunk:${q.chunk}`] : [])].join(',')
}

export function askedOf(q: Question): Asked {
  const mm = Math.round(Number(q.m.replace(',', '.')) * 1000)
  return {
    out: q.out,
    inp: q.inp,
    grade: q.grade,
    length_mm: mm > 0 ? mm : null,
    build: q.build,
    power: q.power,
    turned: q.turned === '1',
    proved: q.proved || null,
    failed: q.failed || null,
    timing: q.timing + q.derived,
    encoding: q.encoding,
    bits: Number(q.bits),
    audio: q.audio,
    compression: compressionOf(q),
  }
}

// For a GET: nothing where nothing is meant.
export function paramsOf(q: Question) {
  const asked = askedOf(q)
  return {
    ...asked,
    length_mm: asked.length_mm ?? undefined,
    proved: asked.proved ?? undefined,
    failed: asked.failed ?? undefined,
  }
}
