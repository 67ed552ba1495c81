// How leads run between sockets: straight where they can, in lanes of their own where they turn.
import type { Lead } from '../../api/client'
import { LANE, rowY, STUB, type Box, type Wire } from './board'

const SIDE = 16
const CLEAR = 8

interface Run {
  lead: Lead
  from: Box
  to: Box
  y1: number
  y2: number
}

// Leads that turn in the same gap take lanes in an order that keeps them from crossing:
// of those going down the lowest turns first, of those going up the highest.
function lanes(runs: Run[]): Map<string, number> {
  const byStart = new Map<number, Run[]>()
  for (const r of runs) byStart.set(r.from.x + r.from.w, [...(byStart.get(r.from.x + r.from.w) ?? []), r])
  const found = new Map<string, number>()
  for (const group of byStart.values()) {
    const down = group.filter((r) => r.y2 > r.y1).sort((a, b) => b.y1 - a.y1)
    const up = group.filter((r) => r.y2 < r.y1).sort((a, b) => a.y1 - b.y1)
    ;[...up, ...down].forEach((r, n) => found.set(r.lead.uid, n))
  }
  return found
}

export function wires(leads: Lead[], boxes: Box[], row: number): Wire[] {
  const at = (end: Lead['a']) => boxes.find((b) => b.device.uid === end?.device)
  const runs: Run[] = leads.flatMap((lead) => {
    const [from, to] = [at(lead.a), at(lead.b)]
    if (!from || !to || !lead.a || !lead.b) return []
    return [{ lead, from, to, y1: rowY(from, lead.a.port, row), y2: rowY(to, lead.b.port, row) }]
  })
  const lane = lanes(runs.filter((r) => r.to.x > r.from.x))
  const used = new Map<string, number>()
  const next = (key: string) => {
    const n = used.get(key) ?? 0
    used.set(key, n + 1)
    return n * LANE
  }
  return runs.map((r) =>
    r.to.x <= r.from.x
      ? returning(r, next('side'))
      : onward(r, (lane.get(r.lead.uid) ?? 0) * LANE, boxes, next),
  )
}

// Back to the left, or to sound below: by the right-hand side.
function returning({ lead, from, to, y1, y2 }: Run, shift: number): Wire {
  const [x1, x2] = [from.x + from.w, to.x + to.w]
  const side = Math.max(x1, x2) + SIDE + shift
  return { lead, path: `M${x1} ${y1}H${side}V${y2}H${x2}`, tagX: x1 + 5, tagY: y1 - 6 }
}

function onward(
  { lead, from, to, y1, y2 }: Run,
  shift: number,
  boxes: Box[],
  next: (key: string) => number,
): Wire {
  const [x1, x2] = [from.x + from.w, to.x]
  const turn = x1 + STUB + shift
  // boxes standing between the two columns at the height where the lead would run
  const between = boxes.filter((b) => b.x > x1 && b.x + b.w < x2)
  const hit = (y: number) => between.filter((b) => y > b.y - 6 && y < b.y + b.h + 6)
  let path = y1 === y2 ? `M${x1} ${y1}H${x2}` : `M${x1} ${y1}H${turn}V${y2}H${x2}`
  if (hit(y2).length) {
    let under = Math.max(...hit(y2).map((b) => b.y + b.h)) + CLEAR
    for (let blocked = hit(under); blocked.length; blocked = hit(under))
      under = Math.max(...blocked.map((b) => b.y + b.h)) + CLEAR
    under += next('under')
    const last = x2 - 14 - next(`last ${x2}`)
    path = `M${x1} ${y1}H${turn}V${under}H${last}V${y2}H${x2}`
  }
  return { lead, path, tagX: x1 + 5, tagY: y1 - 7 }
}
