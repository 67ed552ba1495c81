// A job after a change, put together from what was painted and what was sent.
import type { ChangedView, View } from '../api/client'

interface Row {
  uid: string
}

// The rows in order: those sent, else those that were there; null where one is neither.
function rows<T extends Row>(order: string[], sent: T[], had: T[]): T[] | null {
  const known = new Map([...had, ...sent].map((row) => [row.uid, row]))
  const found = order.flatMap((uid) => known.get(uid) ?? [])
  return found.length === order.length ? found : null
}

// What is unchanged stays the very same object, so that only what changed is painted again. Null: rows are missing.
export function laidOver(base: View | null, next: ChangedView): View | null {
  const { order, ...view } = next
  const devices = rows(order.devices, next.devices, base?.devices ?? [])
  const leads = rows(order.leads, next.leads, base?.leads ?? [])
  const runs = rows(order.runs, next.runs, base?.runs ?? [])
  return devices && leads && runs ? { ...view, devices, leads, runs } : null
}

// Of a job that is not open: enough to know its revision, nothing to paint.
export function onlyHead(next: ChangedView): View {
  return { ...next, devices: [], leads: [], runs: [] }
}
