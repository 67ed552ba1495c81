import { describe, expect, it } from 'vitest'

import type { View } from '../src/api/client'
import { layOut } from '../src/sheets/wiring/layout'

type Part = Partial<View['devices'][number]> & { uid: string; role: 'source' | 'repeater' | 'screen' }

function view(devices: Part[], pairs: [string, string][]): View {
  return {
    devices: devices.map((d) => ({
      room: '',
      label: d.uid,
      ports: [
        { id: 'in', direction: 'in' },
        { id: 'out', direction: 'out' },
      ],
      ...d,
    })),
    leads: pairs.map(([a, b], n) => ({
      uid: `L${n}`,
      label: `L${n}`,
      a: { device: a, port: 'out' },
      b: { device: b, port: 'in' },
      runs: [],
    })),
  } as unknown as View
}

const chain = view(
  [
    { uid: 'pc', role: 'source' },
    { uid: 'sw', role: 'repeater', column: 1 },
    { uid: 'av', role: 'repeater', column: 2 },
    { uid: 'tv', role: 'screen' },
  ],
  [
    ['pc', 'sw'],
    ['sw', 'av'],
    ['av', 'tv'],
  ],
)

describe('the board', () => {
  it('puts each box a column after what feeds it', () => {
    const x = Object.fromEntries(layOut(chain, 900).boxes.map((b) => [b.device.uid, b.x]))
    expect([x.pc, x.sw, x.av, x.tv]).toEqual([...Object.values(x)].sort((a, b) => a - b))
    expect(new Set(Object.values(x)).size).toBe(4)
  })

  it('never lets boxes overlap and keeps them on the board', () => {
    const rooms = ['Den', 'Match room', '']
    const many = Array.from({ length: 12 }, (_, n) => ({
      uid: `d${n}`,
      role: (['source', 'repeater', 'screen'] as const)[n % 3] ?? 'source',
      room: rooms[n % 2] ?? '',
    }))
    const board = layOut(view(many, []), 700)
    for (const [n, a] of board.boxes.entries()) {
      expect(a.x + a.w).toBeLessThanOrEqual(board.width)
      expect(a.y + a.h).toBeLessThanOrEqual(board.height)
      for (const b of board.boxes.slice(n + 1)) {
        const apart = a.x + a.w <= b.x || b.x + b.w <= a.x || a.y + a.h <= b.y || b.y + b.h <= a.y
        expect(apart).toBe(true)
      }
    }
  })

  it('ends every lead at its sockets', () => {
    const board = layOut(chain, 900)
    for (const wire of board.wires) {
      const from = board.boxes.find((b) => b.device.uid === wire.lead.a?.device)
      const to = board.boxes.find((b) => b.device.uid === wire.lead.b?.device)
      expect(wire.path.startsWith(`M${(from?.x ?? 0) + (from?.w ?? 0)} `)).toBe(true)
      expect(wire.path.endsWith(`H${to?.x}`)).toBe(true)
    }
  })

  it('leaves out loose leads and survives a loop in the data', () => {
    const loop = view(
      [
        { uid: 'a', role: 'repeater' },
        { uid: 'b', role: 'repeater' },
      ],
      [
        ['a', 'b'],
        ['b', 'a'],
      ],
    )
    loop.leads.push({ ...loop.leads[0]!, uid: 'loose', b: null })
    expect(layOut(loop, 600).wires).toHaveLength(2)
  })

  it('leaves room for what stands beside leads from screen to screen', () => {
    const screens = ['m1', 'm2', 'm3'].map((uid) => ({ uid, role: 'screen' as const }))
    const daisy = view(
      [{ uid: 'pc', role: 'source' }, ...screens],
      [
        ['pc', 'm1'],
        ['m1', 'm2'],
        ['m2', 'm3'],
      ],
    )
    for (const width of [0, 390, 746, 1200]) {
      const board = layOut(daisy, width)
      const LETTERS = 48 // `100 %`, bold
      for (const wire of board.wires) expect(wire.tagX + LETTERS).toBeLessThanOrEqual(board.width)
    }
  })
})
