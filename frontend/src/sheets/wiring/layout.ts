// Where boxes, sockets and leads go on the board. Places only: nothing of the trade is worked out here.
import type { Device, Lead, View } from '../../api/client'

export interface Box {
  device: Device
  x: number
  y: number
  w: number
  h: number
}
export interface Wire {
  lead: Lead
  path: string
  tagX: number
  tagY: number
}
export interface Board {
  row: number
  boxes: Box[]
  wires: Wire[]
  bands: { room: string; y: number }[]
  heads: { text: string; x: number }[]
  width: number
  height: number
}

const HEAD = 26
const TITLE = 53
const PAD = 7
const GAP = 10
const BAND_HEAD = 20
const WIDE_BOX = 188
const NARROW_BOX = 176
const NARROW_FROM = 740
const LANE = 9
const STUB = 50

const heightOf = (d: Device, row: number) => TITLE + d.ports.length * row + PAD
const rowY = (box: Box, port: string, row: number) =>
  box.y + TITLE + (box.device.ports.findIndex((p) => p.id === port) + 0.5) * row

// How far behind the sources a repeater stands: 1 for the first, 2 when one feeds another.
function depths(view: View): Map<string, number> {
  const feeds = new Map<string, string[]>()
  for (const lead of view.leads) {
    if (lead.a && lead.b) feeds.set(lead.b.device, [...(feeds.get(lead.b.device) ?? []), lead.a.device])
  }
  const roles = new Map(view.devices.map((d) => [d.uid, d.role]))
  const found = new Map<string, number>()
  const depth = (uid: string, seen: string[]): number => {
    if (roles.get(uid) !== 'repeater' || seen.includes(uid)) return 0
    const kept = found.get(uid)
    if (kept) return kept
    const own = 1 + Math.max(0, ...(feeds.get(uid) ?? []).map((f) => depth(f, [...seen, uid])))
    found.set(uid, own)
    return own
  }
  view.devices.forEach((d) => depth(d.uid, []))
  return found
}

// `row` is the height of a socket: larger where fingers pick it.
export function layOut(view: View, width: number, row = 24): Board {
  const depth = depths(view)
  const middles = Math.max(0, ...depth.values())
  const count = middles + 2
  const columnOf = (d: Device) =>
    d.role === 'source' ? 0 : d.role === 'screen' ? count - 1 : (depth.get(d.uid) ?? 1)
  const boxWidth = width < NARROW_FROM ? NARROW_BOX : WIDE_BOX
  const full = Math.max(width, count * boxWidth + (count - 1) * 72)
  const step = (full - boxWidth) / (count - 1)
  const boxes: Box[] = []
  const bands: Board['bands'] = []
  const rooms = [...new Set(view.devices.map((d) => d.room))].sort((a, b) =>
    a === '' ? 1 : b === '' ? -1 : 0,
  )
  let top = HEAD
  for (const room of rooms) {
    const start = rooms.length > 1 || room ? top + BAND_HEAD : top
    if (start !== top) bands.push({ room: room || 'no room', y: top })
    const bottoms = Array.from({ length: count }, () => start)
    for (const device of view.devices.filter((d) => d.room === room)) {
      const column = columnOf(device)
      const y = bottoms[column] ?? start
      const box = { device, x: Math.round(column * step), y, w: boxWidth, h: heightOf(device, row) }
      boxes.push(box)
      bottoms[column] = y + box.h + GAP
    }
    top = Math.max(...bottoms)
  }
  const names = [
    'Sources',
    ...Array.from({ length: middles }, (_, n) => (n ? 'then' : 'In between')),
    'Screens',
  ]
  const heads = names.map((text, n) => ({ text, x: Math.round(n * step) }))
  return { boxes, bands, heads, wires: wires(view.leads, boxes, row), row, width: full, height: top }
}

function wires(leads: Lead[], boxes: Box[], row: number): Wire[] {
  const at = (end: Lead['a']) => boxes.find((b) => b.device.uid === end?.device)
  const lanes = new Map<number, number>()
  const lane = (x: number) => {
    const used = lanes.get(x) ?? 0
    lanes.set(x, used + 1)
    return used * LANE
  }
  const out: Wire[] = []
  for (const lead of leads) {
    const [from, to] = [at(lead.a), at(lead.b)]
    if (!from || !to || !lead.a || !lead.b) continue
    const x1 = from.x + from.w
    const y1 = rowY(from, lead.a.port, row)
    const x2 = to.x
    const y2 = rowY(to, lead.b.port, row)
    const turn = x1 + STUB + lane(x1)
    // boxes standing between the two columns at the height where the lead would run
    const between = boxes.filter((b) => b.x > x1 && b.x + b.w < x2)
    const hit = between.filter((b) => y2 > b.y - 6 && y2 < b.y + b.h + 6)
    let path: string
    if (hit.length) {
      const under = Math.max(...hit.map((b) => b.y + b.h)) + 8 + lane(-1)
      const last = x2 - 14 - lane(x2)
      path = `M${x1} ${y1}H${turn}V${under}H${last}V${y2}H${x2}`
    } else if (y1 === y2) path = `M${x1} ${y1}H${x2}`
    else path = `M${x1} ${y1}H${turn}V${y2}H${x2}`
    out.push({ lead, path, tagX: x1 + 5, tagY: y1 - 7 })
  }
  return out
}
