// Where boxes and sockets go on the board, room by room. Places only: nothing of the trade is worked out here.
import type { Device, Lead, View } from '../../api/client'
import { LANE, rowY, STUB, TITLE, type Box, type Wire } from './board'
import { wires } from './wires'

export interface Board {
  row: number
  boxes: Box[]
  wires: Wire[]
  bands: { room: string; y: number; heads: { text: string; x: number }[] }[]
  width: number
  height: number
}

const PAD = 7
const GAP = 10
const BAND_HEAD = 24
const WIDE_BOX = 188
const NARROW_BOX = 172
const NARROW_FROM = 740
const LEAST_GAP = 64
const SIDE = 16
const TAG = 56 // what stands beside the start of a lead at the right-hand side

const heightOf = (d: Device, row: number) => TITLE + d.ports.length * row + PAD

// The columns of one room: those of the whole rig that its boxes stand in, sources first, screens and sound last.
function columnsOf(devices: Device[]): { at: Map<string, number>; count: number } {
  const steps = [...new Set(devices.filter((d) => d.role === 'repeater').map((d) => d.column))].sort(
    (a, b) => a - b,
  )
  const count = steps.length + 2
  const at = new Map<string, number>()
  for (const d of devices)
    at.set(d.uid, d.role === 'source' ? 0 : d.role === 'repeater' ? steps.indexOf(d.column) + 1 : count - 1)
  return { at, count }
}

function headsOf(count: number, sound: boolean): string[] {
  const middle = Array.from({ length: count - 2 }, (_, n) => (n ? 'then' : 'in between'))
  return ['sources', ...middle, sound ? 'screens and sound' : 'screens']
}

// Widths of the gaps between columns: room for every lead that turns in them.
function gapsOf(leads: Lead[], at: Map<string, number>, count: number): { gaps: number[]; side: number } {
  const turning = Array.from({ length: count - 1 }, () => 0)
  let back = 0
  for (const lead of leads) {
    const [a, b] = [at.get(lead.a?.device ?? ''), at.get(lead.b?.device ?? '')]
    if (a === undefined || b === undefined) continue
    if (b <= a) back++
    else {
      turning[a] = (turning[a] ?? 0) + 1
      if (b > a + 1) turning[b - 1] = (turning[b - 1] ?? 0) + 1
    }
  }
  const gaps = turning.map((n) => Math.max(LEAST_GAP, STUB + (n + 1) * LANE))
  return { gaps, side: back ? Math.max(TAG, SIDE + back * LANE) : 0 }
}

// Boxes of a room from the screens back, each near what it feeds, so that leads cross as little as may be.
function stack(
  devices: Device[],
  leads: Lead[],
  at: Map<string, number>,
  xs: number[],
  w: number,
  top: number,
  row: number,
) {
  const placed: Box[] = []
  const wish = (d: Device): number => {
    const ends = leads
      .filter((l) => l.a?.device === d.uid)
      .flatMap((l) => {
        const box = placed.find((p) => p.device.uid === l.b?.device)
        return box && l.b ? [rowY(box, l.b.port, row)] : []
      })
    return ends.length ? ends.reduce((sum, y) => sum + y, 0) / ends.length : Number.MAX_SAFE_INTEGER
  }
  for (let column = xs.length - 1; column >= 0; column--) {
    const own = devices.filter((d) => at.get(d.uid) === column)
    if (column < xs.length - 1) own.sort((a, b) => wish(a) - wish(b))
    let y = top
    for (const device of own) {
      const h = heightOf(device, row)
      placed.push({ device, column, x: xs[column] ?? 0, y, w, h })
      y += h + GAP
    }
  }
  return placed
}

// `row` is the height of a socket: larger where fingers pick it.
export function layOut(view: View, width: number, row = 24): Board {
  const w = width < NARROW_FROM ? NARROW_BOX : WIDE_BOX
  const rooms = [...new Set(view.devices.map((d) => d.room))].sort((a, b) =>
    a === '' ? 1 : b === '' ? -1 : 0,
  )
  const boxes: Box[] = []
  const bands: Board['bands'] = []
  let top = 0
  let full = width
  for (const room of rooms) {
    const devices = view.devices.filter((d) => d.room === room)
    const { at, count } = columnsOf(devices)
    const { gaps, side } = gapsOf(view.leads, at, count)
    const needed = count * w + gaps.reduce((sum, g) => sum + g, 0) + side
    const spare = Math.max(0, width - needed) / gaps.length
    const xs = [0]
    for (const gap of gaps) xs.push((xs[xs.length - 1] ?? 0) + w + gap + spare)
    const heads = headsOf(
      count,
      devices.some((d) => d.role === 'sound'),
    )
    bands.push({
      room: room || (rooms.length > 1 ? 'no room' : ''),
      y: top,
      heads: heads.map((text, n) => ({ text, x: Math.round(xs[n] ?? 0) })),
    })
    const made = stack(devices, view.leads, at, xs.map(Math.round), w, top + BAND_HEAD, row)
    boxes.push(...made)
    full = Math.max(full, needed)
    top = Math.max(top + BAND_HEAD, ...made.map((b) => b.y + b.h + GAP)) + 4
  }
  return { boxes, bands, wires: wires(view.leads, boxes, row), row, width: full, height: top }
}
