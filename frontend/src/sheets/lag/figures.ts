// The bench's figures as ECharts options. Told apart by shape and place, not by colour alone: they print in grey.
import type { EChartsCoreOption } from 'echarts/core'

import type { FilmTold, LagSession, Reading } from '../../api/client'
import type { Inks } from '../../shared/inks'

type Report = LagSession['report']
const axisLine = (k: Inks) => ({ lineStyle: { color: k.ruleStrong } })
const valueAxis = (k: Inks, name: string) => ({
  type: 'value' as const,
  name,
  nameLocation: 'end' as const,
  nameTextStyle: { color: k.ink2 },
  axisLine: axisLine(k),
  axisLabel: { color: k.ink2, fontFamily: k.figure },
  splitLine: { lineStyle: { color: k.rule } },
})
const nameAxis = (k: Inks, data: string[], width: number) => ({
  type: 'category' as const,
  data,
  inverse: true,
  axisLine: axisLine(k),
  axisTick: { show: false },
  axisLabel: { color: k.ink, width, overflow: 'break' as const, lineHeight: 15 },
})
const JITTER = 11
const jitter = (seq: number) => ((seq * 7) % JITTER) / JITTER - 0.5

// The part of the axis around the bound and what lies under it.
function nearBound(report: Report) {
  const low = report.conditions.map((c) => c.summary).filter((s) => s && s.lag_ms <= report.bound_ms * 1.5)
  const least = Math.min(...low.map((s) => s?.low_ms ?? 0))
  const most = Math.max(...low.map((s) => s?.high_ms ?? report.bound_ms))
  const close = most * 1.6 > report.bound_ms
  return {
    min: Math.floor(least * 0.9),
    max: Math.ceil(close ? Math.max(report.bound_ms * 1.1, most) : most * 1.1),
  }
}

// Is a reading one of a cell's, taken the way that cell's were?
function isOf(r: Reading, c: Report['conditions'][number]): boolean {
  const same = c.mode === r.condition && c.input === r.input && c.signal === r.signal
  const counted = c.summary?.counted_ms ?? null
  const way =
    c.methods.includes(r.method) && (counted === null || Math.abs((r.step_ms ?? counted) - counted) < 0.002)
  return same && c.position === r.position && way
}

// Readings as a strip over their box: quartiles, median, and the bound they are held against.
export function strip(report: Report, readings: Reading[], near = false) {
  return (k: Inks): EChartsCoreOption => {
    const taken = report.conditions.filter((c) => c.summary)
    const names = taken.map((c) => c.condition)
    const dots = readings
      .filter((r) => r.method !== 'guess')
      .map((r) => ({ r, row: taken.findIndex((c) => isOf(r, c)) }))
      .filter((d) => d.row >= 0)
    return {
      grid: { left: 132, right: 24, top: 26, bottom: 28 },
      tooltip: { trigger: 'item', confine: true },
      xAxis: { ...valueAxis(k, 'ms'), ...(near ? nearBound(report) : { min: 0 }) },
      yAxis: nameAxis(k, names, 120),
      series: [
        {
          type: 'boxplot',
          data: taken.map((c) => {
            const s = c.summary
            return s ? [s.low_ms, s.quartile_low_ms, s.median_ms, s.quartile_high_ms, s.high_ms] : []
          }),
          itemStyle: { color: k.signalSoft, borderColor: k.ink, borderWidth: 1.2 },
          boxWidth: [10, 26],
          layout: 'horizontal',
          markLine: {
            symbol: 'none',
            silent: true,
            lineStyle: { color: k.blocked, type: 'dashed', width: 1.6 },
            label: {
              formatter: `${report.bound_ms} ms asked`,
              color: k.blocked,
              fontFamily: k.body,
              position: 'start',
            },
            data: [{ xAxis: report.bound_ms }],
          },
        },
        {
          type: 'scatter',
          symbolSize: 6,
          encode: { x: 0, y: 1 },
          data: dots.map(({ r, row }) => ({
            value: [r.lag_ms, row],
            symbolOffset: [0, jitter(r.seq) * 22],
            symbol: r.discard ? 'emptyCircle' : 'circle',
            itemStyle: { color: r.discard ? k.ruleStrong : k.signal, opacity: r.discard ? 0.7 : 0.75 },
            name: `${r.lag_ms.toFixed(1)} ms${r.discard ? `, ${r.discard}` : ''}`,
          })),
          tooltip: { formatter: '{b}' },
        },
      ],
    }
  }
}

// Readings in the order they came: settling, drift and misreadings show.
export function timeline(readings: Reading[], bound: number) {
  return (k: Inks): EChartsCoreOption => {
    const kinds = [...new Set(readings.map((r) => r.condition))]
    const SYMBOLS = ['circle', 'rect', 'triangle', 'diamond', 'roundRect', 'pin']
    return {
      grid: { left: 52, right: 24, top: 26, bottom: 40 },
      tooltip: { trigger: 'item', confine: true },
      xAxis: { ...valueAxis(k, ''), name: 'reading', nameLocation: 'middle', nameGap: 26, scale: true },
      yAxis: { ...valueAxis(k, 'ms'), min: 0 },
      series: kinds.map((kind, n) => ({
        type: 'scatter',
        name: kind,
        symbol: SYMBOLS[n % SYMBOLS.length],
        symbolSize: 6,
        data: readings
          .filter((r) => r.condition === kind)
          .map((r) => ({
            value: [r.seq, r.lag_ms],
            itemStyle: r.discard
              ? { color: 'transparent', borderColor: k.ruleStrong, borderWidth: 1 }
              : { color: n % 2 ? k.ink2 : k.signal },
            name: `${kind} ${r.lag_ms.toFixed(1)} ms${r.discard ? `, ${r.discard}` : ''}`,
          })),
        tooltip: { formatter: '{b}' },
        ...(n === 0
          ? {
              markLine: {
                symbol: 'none',
                silent: true,
                lineStyle: { color: k.blocked, type: 'dashed' },
                label: { show: false },
                data: [{ yAxis: bound }],
              },
            }
          : {}),
      })),
    }
  }
}

// What each setting costs against the baseline, with its interval; the costliest on top.
export function tornado(report: Report, within: number) {
  return (k: Inks): EChartsCoreOption => {
    const rows = report.costs
    return {
      grid: { left: 150, right: 34, top: 22, bottom: 34 },
      tooltip: { trigger: 'item', confine: true },
      xAxis: {
        ...valueAxis(k, ''),
        name: `ms more than ${report.baseline}`,
        nameLocation: 'middle',
        nameGap: 24,
      },
      yAxis: nameAxis(
        k,
        rows.map((r) => r.condition),
        140,
      ),
      series: [
        {
          type: 'bar',
          barWidth: 15,
          data: rows.map((r) => ({
            value: r.ms,
            name: r.sentence,
            itemStyle: {
              color: r.decision === 'same' ? k.signalSoft : k.signal,
              borderColor: k.ink,
              borderWidth: r.decision === 'undecided' ? 1.4 : 0.6,
              borderType: r.decision === 'undecided' ? ('dashed' as const) : ('solid' as const),
            },
          })),
          tooltip: { formatter: '{b}' },
          markLine: {
            symbol: 'none',
            silent: true,
            label: { show: false },
            lineStyle: { color: k.ruleStrong, type: 'dotted' },
            data: [{ xAxis: within }, { xAxis: -within }],
          },
        },
        {
          type: 'custom',
          silent: true,
          data: rows.map((r, n) => [r.ci_low_ms ?? r.ms, r.ci_high_ms ?? r.ms, n]),
          renderItem: (
            _: unknown,
            api: { value: (d: number) => number; coord: (p: number[]) => number[] },
          ) => {
            const [x1 = 0, y = 0] = api.coord([api.value(0), api.value(2)])
            const [x2 = 0] = api.coord([api.value(1), api.value(2)])
            const line = (a: number, b: number, c: number, d: number) => ({
              type: 'line',
              shape: { x1: a, y1: b, x2: c, y2: d },
              style: { stroke: k.ink, lineWidth: 1.6 },
            })
            return {
              type: 'group',
              children: [line(x1, y, x2, y), line(x1, y - 5, x1, y + 5), line(x2, y - 5, x2, y + 5)],
            }
          },
        },
      ],
    }
  }
}

interface Part {
  name: string
  low_ms: number
  high_ms: number
  kind: string
}
// The lag of a chain as one bar, part after part; what nobody knows is hatched from its least to its most.
export function budgetBar(parts: Part[]) {
  return (k: Inks): EChartsCoreOption => {
    const SHADES = [k.signal, k.ink2, k.ruleStrong, k.signalSoft, k.rule]
    const hatch = {
      symbol: 'rect',
      dashArrayX: [1, 0],
      dashArrayY: [3, 4],
      rotation: Math.PI / 4,
      color: k.blocked,
    }
    return {
      grid: { left: 10, right: 24, top: 8, bottom: 34 },
      tooltip: { trigger: 'item', confine: true },
      xAxis: { ...valueAxis(k, ''), name: 'ms from act to light', nameLocation: 'middle', nameGap: 24 },
      yAxis: { type: 'category', data: [''], axisLine: axisLine(k), axisTick: { show: false } },
      series: parts.map((p, n) => ({
        type: 'bar',
        stack: 'lag',
        name: p.name,
        barWidth: 34,
        data: [p.high_ms],
        tooltip: {
          formatter: `${p.name}: ${p.low_ms === p.high_ms ? p.low_ms.toFixed(1) : `${p.low_ms.toFixed(1)} to ${p.high_ms.toFixed(1)}`} ms`,
        },
        itemStyle: {
          color: p.kind === 'unknown' ? k.plate : SHADES[n % SHADES.length],
          decal: p.kind === 'unknown' ? hatch : undefined,
          borderColor: k.ink,
          borderWidth: 0.8,
        },
        label: {
          show: true,
          formatter: String(n + 1),
          color: k.ink,
          fontFamily: k.figure,
          backgroundColor: k.plate,
          padding: [1, 4],
        },
      })),
    }
  }
}

// Light of a film's two patches over time, one above the other, with the moments that were read.
export function levels(told: FilmTold) {
  return (k: Inks): EChartsCoreOption => {
    const ends = [
      { name: 'starts', of: told.start_levels, at: (p: FilmTold['presses'][number]) => p.start_s },
      { name: 'answers', of: told.answer_levels, at: (p: FilmTold['presses'][number]) => p.answer_s },
    ]
    const HEIGHTS = ['10%', '50%']
    return {
      grid: HEIGHTS.map((top) => ({ left: 34, right: 26, top, height: '32%' })),
      tooltip: { trigger: 'axis', confine: true },
      xAxis: ends.map((_, n) => ({
        ...valueAxis(k, ''),
        gridIndex: n,
        min: 0,
        max: Math.ceil(told.clock.seconds),
        axisLabel: { show: n === 1, color: k.ink2, fontFamily: k.figure, formatter: '{value} s' },
      })),
      yAxis: ends.map((e, n) => ({
        type: 'value' as const,
        gridIndex: n,
        name: e.name,
        nameLocation: 'middle' as const,
        nameGap: 12,
        nameTextStyle: { color: k.ink },
        axisLabel: { show: false },
        axisTick: { show: false },
        splitLine: { show: false },
      })),
      series: ends.map((e, n) => ({
        type: 'line' as const,
        name: e.name,
        xAxisIndex: n,
        yAxisIndex: n,
        symbol: 'none',
        lineStyle: { color: k.ink, width: 1.2 },
        data: e.of ? e.of.at_s.map((t, i) => [t, e.of?.light[i]]) : [],
        markLine: {
          symbol: 'none',
          silent: true,
          label: { show: false },
          lineStyle: { color: k.signal, type: 'solid' as const, width: 1.4 },
          data: told.presses.flatMap((p) => {
            const at = e.at(p)
            return at === null ? [] : [{ xAxis: at }]
          }),
        },
      })),
    }
  }
}
