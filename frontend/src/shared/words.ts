// Figures as people read them. Only formatting: every number comes from the server.
import type { Link } from '../api/client'

export const metres = (mm: number | null | undefined) =>
  mm == null ? 'length not measured' : `${mm / 1000} m`
export const percent = (value: number | null | undefined) => (value == null ? '?' : `${Math.round(value)} %`)
export const ms = (value: number | null | undefined) => (value == null ? '–' : `${value.toFixed(1)} ms`)
export const loadText = (link: Link) =>
  link.transport === null
    ? link.ceiling_short
    : link.used_percent == null
      ? link.verdict === 'blocked'
        ? 'nothing passes'
        : 'not known'
      : `${percent(link.used_percent)} of ${link.ceiling_short}`
export const hdrNames = { off: 'standard', static: 'HDR', dynamic: 'dynamic HDR' } as const
export const chromaNames = { any: 'any', '422': '4:2:2 or up', '444': '4:4:4 or RGB' } as const

// A time in the job's zone (or the browser's own): `25 Nov, 14:05`.
export function shortTime(iso: string, timeZone?: string): string {
  return new Date(iso).toLocaleString('en-GB', {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
    timeZone,
  })
}

// A file's size: `12 kB`, `3.4 MB`.
const KB = 1e3
const MB = 1e6
export const bytes = (n: number) => (n < MB ? `${Math.ceil(n / KB)} kB` : `${(n / MB).toFixed(1)} MB`)

// When somebody is to look in again: `next look: in 12 days`, `next look: 3 days late`.
export function dueWords(days: number): string {
  if (days < 0) return `next look: ${-days === 1 ? '1 day' : `${-days} days`} late`
  return days === 0 ? 'next look: today' : `next look: in ${days === 1 ? '1 day' : `${days} days`}`
}

// A clause as a sentence: its first letter large, a full stop at its end unless it has one.
export function sentence(clause: string): string {
  const text = clause.charAt(0).toUpperCase() + clause.slice(1)
  return /[.?!]$/.test(text) ? text : `${text}.`
}

// A difference in ms with its sign; nothing that rounds to nothing has one.
export function signedMs(v: number | null | undefined): string {
  if (v == null) return '–'
  const text = Math.abs(v).toFixed(1)
  return `${text === '0.0' ? '' : v > 0 ? '+' : '−'}${text}`
}
