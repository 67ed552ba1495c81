import { flushPromises, mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent } from 'vue'

import { api, type LagSession, type Reading, type Retro, type Step } from '../src/api/client'
import { useJob } from '../src/shared/job'
import { loadText, sentence } from '../src/shared/words'
import { modes, typed } from '../src/sheets/brief/modes'
import { idOf } from '../src/sheets/gear/editor/draft'
import { budgetBar, strip, timeline, tornado } from '../src/sheets/lag/figures'
import { useRunSheet } from '../src/sheets/runsheet/useRunSheet'
import ShapeStrip from '../src/sheets/signal/ShapeStrip.vue'
import type { Inks } from '../src/shared/inks'

const INKS = new Proxy({}, { get: (_, name) => String(name) }) as unknown as Inks

describe('modes of a title', () => {
  it.each([
    [
      '30 60',
      [
        ['', 30],
        ['', 60],
      ],
    ],
    [
      'fine 30, fast 60',
      [
        ['fine', 30],
        ['fast', 60],
      ],
    ],
    [
      'very fine 40/120',
      [
        ['very fine', 40],
        ['', 120],
      ],
    ],
    ['', []],
  ])('%s', (text, expected) => {
    expect(modes(text).map((m) => [m.name, m.fps])).toEqual(expected)
  })
})

describe('modes as people say them', () => {
  it.each([
    ['60 quality 2160', [{ name: 'quality', fps: 60, lines: 2160 }]],
    ['quality 60', [{ name: 'quality', fps: 60 }]],
    [
      'quality 4K30, fast 1080p120',
      [
        { name: 'quality', fps: 30, lines: 2160 },
        { name: 'fast', fps: 120, lines: 1080 },
      ],
    ],
    ['60fps', [{ name: '', fps: 60 }]],
    [
      '30 1440 60 1080',
      [
        { name: '', fps: 30, lines: 1440 },
        { name: '', fps: 60, lines: 1080 },
      ],
    ],
  ])('%s', (text, expected) => {
    expect(modes(text)).toEqual(expected)
    expect(modes(typed(modes(text)))).toEqual(expected)
  })
})

describe('words', () => {
  it('makes a clause a sentence, once', () => {
    expect(sentence('it changes by itself')).toBe('It changes by itself.')
    expect(sentence('Already done.')).toBe('Already done.')
    expect(sentence('is it?')).toBe('Is it?')
  })
  it('tells a link by its scan rate where it has no load', () => {
    const link = {
      transport: null,
      ceiling_short: '15.73 kHz, 60.05 Hz',
      used_percent: null,
      verdict: 'fits',
    }
    expect(loadText(link as never)).toBe('15.73 kHz, 60.05 Hz')
    expect(loadText({ ...link, transport: 'frl', verdict: 'blocked' } as never)).toBe('nothing passes')
  })
  it('names parts of a profile unlike those there are', () => {
    expect(idOf('Größe & Form')).toBe('gro-e-form')
    expect(idOf('Game', ['game', 'game-2'])).toBe('game-3')
  })
})

const summary = (median: number) => ({
  n: 8,
  lag_ms: median,
  of: 'median',
  counted_ms: null,
  median_ms: median,
  mean_ms: median,
  sd_ms: 1,
  low_ms: median - 1,
  high_ms: median + 1,
  ci_low_ms: median - 0.5,
  ci_high_ms: median + 0.5,
  quartile_low_ms: median - 0.4,
  quartile_high_ms: median + 0.4,
  outliers: 0,
})
const condition = (mode: string, median: number | null) => ({
  condition: mode,
  mode,
  input: '',
  signal: '',
  position: '',
  methods: ['meter'],
  summary: median === null ? null : summary(median),
})
const report = {
  bound_ms: 40,
  baseline: 'game',
  conditions: [condition('game', 11), condition('standard', 92), condition('film', null)],
  costs: [
    {
      condition: 'standard',
      ms: 81,
      ci_low_ms: 80,
      ci_high_ms: 82,
      decision: 'changed',
      sentence: 'standard: …',
    },
    {
      condition: 'sharp',
      ms: 0.4,
      ci_low_ms: null,
      ci_high_ms: null,
      decision: 'undecided',
      sentence: 'sharp: …',
    },
  ],
} as unknown as LagSession['report']
const reading = (seq: number, lag_ms: number, more: Partial<Reading> = {}) =>
  ({
    seq,
    condition: 'game',
    signal: '',
    input: '',
    position: '',
    method: 'meter',
    lag_ms,
    discard: '',
    ...more,
  }) as Reading

type Series = { data: { value?: unknown; symbol?: string; itemStyle?: Record<string, unknown> }[] }[]
const series = (option: unknown) => (option as { series: Series }).series

describe('the bench’s figures', () => {
  it('draw every reading on its box, hollow where it does not count, and no guess', () => {
    const readings = [
      reading(1, 11),
      reading(2, 12, { discard: 'settling' }),
      reading(3, 25, { method: 'guess' }),
    ]
    const [boxes, dots] = series(strip(report, readings)(INKS))
    expect(boxes?.data).toHaveLength(2) // what was not taken has no box
    expect(dots?.data.map((d) => d.symbol)).toEqual(['circle', 'emptyCircle'])
  })
  it('zoom to what lies near the bound', () => {
    const axis = (strip(report, [], true)(INKS) as { xAxis: { max: number } }).xAxis
    expect(axis.max).toBeLessThan(40)
  })
  it('keep readings in the order they came', () => {
    const [game] = series(timeline([reading(1, 11), reading(2, 12)], 40)(INKS))
    expect(game?.data.map((d) => d.value)).toEqual([
      [1, 11],
      [2, 12],
    ])
  })
  it('mark what is undecided by a dashed edge, not by colour alone', () => {
    const [bars] = series(tornado(report, 2)(INKS))
    expect(bars?.data.map((d) => d.itemStyle?.borderType)).toEqual(['solid', 'dashed'])
  })
  it('hatch what nobody knows', () => {
    const parts = [
      { name: 'a', low_ms: 8, high_ms: 8, kind: 'worked_out' },
      { name: 'b', low_ms: 0, high_ms: 16, kind: 'unknown' },
    ]
    const all = series(budgetBar(parts)(INKS)) as unknown as { itemStyle: { decal?: unknown } }[]
    expect(all.map((s) => s.itemStyle.decal !== undefined)).toEqual([false, true])
  })
})

describe('the shape strip', () => {
  const stage: Retro['shape']['stages'][number] = {
    stage: 'TV',
    option: 'fills',
    fit: 'fill',
    frame: 16 / 9,
    picture: 16 / 9,
    width: 1,
    height: 1,
    seen_across: 1,
    seen_down: 1,
    hidden_percent: 0,
    error_percent: 33.3,
    cut_percent: 0,
    true: false,
    words: '33.3 % too wide',
  }
  const meant: Retro['shape']['stages'][number] = {
    ...stage,
    stage: 'as it is meant',
    option: '',
    frame: 4 / 3,
    error_percent: 0,
    true: true,
    words: 'true',
  }
  const shape: Retro['shape'] = {
    true: false,
    cure: 'True with',
    error_percent: 33.3,
    cut_percent: 0,
    words: '33.3 % too wide',
    best: ['TV: 4:3'],
    best_error_percent: 0,
    ops: [],
    stages: [meant, stage],
  }
  const draw = (s: Retro['shape']) => {
    setActivePinia(createPinia())
    return mount(ShapeStrip, { props: { shape: s } })
  }
  it('draws the circle as wide as the picture is too wide', () => {
    const strip = draw(shape)
    const [first, shown] = strip
      .findAll('ellipse')
      .map((e) => Number(e.attributes('rx')) / Number(e.attributes('ry')))
    expect(first).toBeCloseTo(1)
    expect(shown).toBeCloseTo(1.333, 2)
    expect(strip.text()).toContain('True with')
    expect(strip.text()).toContain('33.3 % too wide')
    expect(strip.text()).not.toContain('past the edges')
  })
  it('draws the circle of the whole picture where some of it is cut', () => {
    const strip = draw({
      ...shape,
      error_percent: 0,
      cut_percent: 25,
      stages: [meant, { ...stage, error_percent: 0, seen_down: 0.75, cut_percent: 25 }],
    })
    const [first, zoomed] = strip.findAll('ellipse').map((e) => Number(e.attributes('ry')))
    expect((zoomed ?? 0) / (first ?? 1)).toBeCloseTo(4 / 3)
    expect(strip.text()).toContain('25 % past the edges')
  })
  it('draws a machine’s own border', () => {
    const strip = draw({ ...shape, stages: [{ ...meant, width: 0.7, height: 2 / 3 }, stage] })
    expect(Number(strip.find('.picture').attributes('height')) / 84).toBeCloseTo(2 / 3)
  })
})

describe('ticks while the server is away', () => {
  beforeEach(() => {
    localStorage.clear()
    setActivePinia(createPinia())
  })
  it('are kept in the browser and sent once it is back', async () => {
    vi.useFakeTimers()
    const sheetNow = { revision: 1, phases: [], minutes_left: 0, open: 0, done: 0, next: null }
    const answer = { data: sheetNow, response: { ok: true, status: 200 } }
    vi.spyOn(api, 'GET').mockResolvedValue(answer as never)
    const post = vi
      .spyOn(api, 'POST')
      .mockRejectedValueOnce(new TypeError('away'))
      .mockResolvedValue(answer as never)
    useJob().view = { uid: 'j', revision: 1, runs: [] } as never
    let sheet: ReturnType<typeof useRunSheet> | undefined
    mount(
      defineComponent({
        setup() {
          sheet = useRunSheet()
          return () => null
        },
      }),
      { global: { plugins: [VueQueryPlugin] } },
    )
    sheet?.tick({ key: 'power-off', title: 'Off' } as Step, 'done')
    await flushPromises()
    await vi.advanceTimersByTimeAsync(10)
    expect(sheet?.away.value).toBe(true)
    expect(JSON.parse(localStorage.getItem('wavilex.ticks.j') ?? '[]')).toHaveLength(1)
    await vi.advanceTimersByTimeAsync(3500)
    await flushPromises()
    const bodies = post.mock.calls.map((call) => (call[1] as { body: { uid: string; key: string } }).body)
    expect(bodies.map((b) => b.key)).toEqual(['power-off', 'power-off'])
    expect(bodies[0]?.uid).toBe(bodies[1]?.uid) // sent twice, it counts once
    expect(sheet?.outbox.value).toHaveLength(0)
    vi.restoreAllMocks()
    vi.useRealTimers()
  })
})
