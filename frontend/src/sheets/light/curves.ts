// The sheet's figures as ECharts options. Told apart by shape and place, not by colour alone: they print in grey.
import type { EChartsCoreOption } from 'echarts/core'

import type { LightCell, LightScale, LightScreen } from '../../api/client'
import type { Inks } from '../../shared/inks'
import { cd, TIMES } from './words'

type Pair = [number, number]
const axis = (k: Inks, name: string, more: object = {}) => ({
  type: 'value' as const,
  name,
  nameLocation: 'middle' as const,
  nameGap: 30,
  nameTextStyle: { color: k.ink2 },
  axisLine: { lineStyle: { color: k.ruleStrong } },
  axisLabel: { color: k.ink2, fontFamily: k.figure },
  splitLine: { lineStyle: { color: k.rule } },
  ...more,
})

// An area between two lines, drawn point by point.
function band(points: [number, number, number][], colour: string, opacity = 0.14) {
  return {
    type: 'custom' as const,
    silent: true,
    z: 1,
    data: points.length ? [[points[0]?.[0], points[0]?.[1]]] : [],
    renderItem: (_: unknown, at: { coord: (p: Pair) => Pair }) => ({
      type: 'polygon',
      shape: {
        points: [
          ...points.map(([x, low]) => at.coord([x, low])),
          ...points.toReversed().map(([x, , high]) => at.coord([x, high])),
        ],
      },
      style: { fill: colour, opacity },
    }),
  }
}

// Panel light to light: readings with their error, the curve and its band, what the room asks, what is to be set.
export function lightCurve(cell: LightCell, targets: LightScreen['targets'], windowPercent: number) {
  return (k: Inks): EChartsCoreOption => {
    const low = cell.low ?? 0
    const high = cell.high ?? 100
    const line = cell.curve?.line ?? []
    const points = cell.curve?.points ?? []
    const asked = targets.filter((t) => cell.times.includes(t.time))
    const apart = new Set(asked.map((t) => t.aim)).size > 1
    const most = Math.max(...points.map((p) => p.high), ...asked.map((t) => t.high * 1.05), 10)
    return {
      grid: { left: 62, right: 96, top: 18, bottom: 46 },
      tooltip: { trigger: 'item', confine: true },
      xAxis: axis(k, cell.setting_label || 'value set', { min: low, max: high }),
      yAxis: axis(k, `cd/m² of white, window ${windowPercent} %`, {
        min: 0,
        max: Math.ceil(most / 50) * 50,
        nameGap: 44,
      }),
      series: [
        ...(apart ? asked : asked.slice(0, 1)).map((t) => ({
          ...band(
            [
              [low, t.low, t.high],
              [high, t.low, t.high],
            ],
            t.time === 'day' ? k.tight : k.signal,
          ),
        })),
        {
          type: 'line' as const,
          silent: true,
          symbol: 'none',
          data: asked.length ? [[low, 0]] : [],
          lineStyle: { opacity: 0 },
          markLine: {
            symbol: 'none',
            silent: true,
            data: (apart ? asked : asked.slice(0, 1)).map((t) => ({
              yAxis: t.aim,
              label: { formatter: apart ? `${TIMES[t.time]}\n${t.aim} asked` : `${t.aim} asked` },
            })),
            lineStyle: { color: k.ink2, type: 'dashed' as const },
            label: { color: k.ink, position: 'end' as const, fontFamily: k.body, lineHeight: 16 },
          },
        },
        band(
          line.map((p) => [p.at, p.low, p.high]),
          k.signal,
          0.3,
        ),
        {
          type: 'line' as const,
          name: 'curve',
          symbol: 'none',
          z: 3,
          data: line.map((p) => [p.at, p.light]),
          lineStyle: { color: k.signal, width: 2.5 },
        },
        {
          type: 'scatter' as const,
          name: 'reading',
          z: 4,
          symbolSize: 10,
          data: points.map((p) => [p.at, p.light]),
          itemStyle: { color: k.plate, borderColor: k.ink, borderWidth: 2 },
          tooltip: {
            formatter: (p: { value: Pair }) => `${cell.setting_label} ${p.value[0]}: ${cd(p.value[1])} cd/m²`,
          },
        },
        {
          type: 'scatter' as const,
          name: 'to set',
          z: 5,
          symbol: 'diamond',
          symbolSize: 17,
          data: cell.answers.filter((a) => a.light !== null).map((a) => [Number(a.value), a.light]),
          itemStyle: { color: k.signal, borderColor: k.plate, borderWidth: 1.5 },
          label: {
            show: true,
            position: 'top' as const,
            formatter: (p: { value: Pair }) => `set ${p.value[0]}`,
            color: k.ink,
            fontWeight: 600,
            fontFamily: k.body,
          },
        },
      ],
    }
  }
}

// Content to what is shown, both in cd/m²: as meant, as it stands now, and the screen as it was measured.
export function hdrCurve(hdr: LightScreen['hdr'][number], track: LightCell['track']) {
  return (k: Inks): EChartsCoreOption => {
    const log = (name: string, gap: number) =>
      axis(k, name, { type: 'log', min: 0.1, max: 10000, nameGap: gap })
    const seen = hdr.line.filter((p) => p.content >= 0.1)
    const marks = [203, 1000].map((x) => ({ xAxis: x, label: { formatter: `${x}` } }))
    const peak = hdr.peak
      ? [{ yAxis: hdr.peak, label: { formatter: `peak ${hdr.peak}`, position: 'insideStartTop' as const } }]
      : []
    return {
      grid: { left: 66, right: 30, top: 30, bottom: 46 },
      tooltip: {
        trigger: 'axis',
        confine: true,
        formatter: (rows: { seriesName: string; dataIndex: number }[]) => {
          const p = seen[rows.find((r) => r.seriesName === 'shown')?.dataIndex ?? -1]
          return p
            ? `code ${p.code} of 10 bits, ${p.percent.toFixed(1)} %<br>${cd(p.content)} cd/m² meant, ${cd(p.shown)} shown`
            : ''
        },
      },
      xAxis: log('cd/m² of the content (PQ)', 30),
      yAxis: log('cd/m² shown', 46),
      series: [
        {
          type: 'line' as const,
          name: 'as meant',
          symbol: 'none',
          data: [
            [0.1, 0.1],
            [10000, 10000],
          ],
          lineStyle: { color: k.ink2, type: 'dashed' as const, width: 1.5 },
          markLine: {
            symbol: 'none',
            silent: true,
            data: [...marks, ...peak],
            lineStyle: { color: k.ruleStrong, type: 'dotted' as const },
            label: { color: k.ink2, fontFamily: k.figure, position: 'end' as const },
          },
        },
        {
          type: 'line' as const,
          name: 'sent by the source',
          symbol: 'none',
          data: hdr.source_peak === null ? [] : seen.map((p) => [p.content, p.sent]),
          lineStyle: { color: k.tight, width: 2, type: [2, 3] },
        },
        {
          type: 'line' as const,
          name: 'shown',
          symbol: 'none',
          z: 3,
          data: seen.map((p) => [p.content, p.shown]),
          lineStyle: { color: k.signal, width: 3 },
        },
        {
          type: 'scatter' as const,
          name: 'measured',
          z: 4,
          symbolSize: 10,
          data: (track?.points ?? [])
            .filter((p) => p.light >= 0.1 && p.meant >= 0.1)
            .map((p) => [p.meant, p.light]),
          itemStyle: { color: k.plate, borderColor: k.ink, borderWidth: 2 },
        },
      ],
    }
  }
}

// Light by the size of the patch.
export function windowCurve(dimming: NonNullable<LightCell['dimming']>) {
  return (k: Inks): EChartsCoreOption => ({
    grid: { left: 62, right: 20, top: 18, bottom: 46 },
    tooltip: { trigger: 'item', confine: true },
    xAxis: axis(k, 'white part of the picture, %', { min: 0, max: 100 }),
    yAxis: axis(k, 'cd/m²', { min: 0, nameGap: 44 }),
    series: [
      {
        type: 'line' as const,
        data: dimming.windows.map((w) => [w.window, w.light]),
        symbol: 'circle',
        symbolSize: 9,
        lineStyle: { color: k.signal, width: 2.5 },
        itemStyle: { color: k.plate, borderColor: k.ink, borderWidth: 2 },
        label: {
          show: true,
          formatter: (p: { value: Pair }) => cd(p.value[1]),
          color: k.ink,
          fontFamily: k.figure,
        },
      },
    ],
  })
}

// Measured whites beside the daylight locus and D65.
export function whitePlot(whites: LightCell['whites'], locus: LightScreen['locus']) {
  return (k: Inks): EChartsCoreOption => ({
    grid: { left: 62, right: 30, top: 18, bottom: 46 },
    tooltip: { trigger: 'item', confine: true },
    xAxis: axis(k, 'x', { min: 0.25, max: 0.39, interval: 0.02 }),
    yAxis: axis(k, 'y', { min: 0.25, max: 0.4, interval: 0.05, nameGap: 44 }),
    series: [
      {
        type: 'line' as const,
        name: 'daylight',
        symbolSize: 4,
        data: locus.map((p) => ({
          value: [p.x, p.y],
          label: {
            show: [5000, 6504, 9300].includes(p.kelvin),
            formatter: p.kelvin === 6504 ? 'D65' : `${p.kelvin} K`,
          },
        })),
        lineStyle: { color: k.ink2, width: 1.5 },
        itemStyle: { color: k.ink2 },
        label: { color: k.ink2, position: 'bottom' as const, fontFamily: k.body },
      },
      {
        type: 'scatter' as const,
        name: 'white',
        symbol: 'diamond',
        symbolSize: 15,
        z: 4,
        data: whites.map((w) => ({ value: [w.x, w.y], label: { formatter: w.warmth || 'as it stood' } })),
        itemStyle: { color: k.signal, borderColor: k.plate, borderWidth: 1.5 },
        label: { show: true, position: 'top' as const, color: k.ink, fontWeight: 600, fontFamily: k.body },
      },
    ],
  })
}

// A document's transfer function, the screen's own points over it.
export function scaleCurve(scale: LightScale, track: LightCell['track'], logarithmic: boolean) {
  return (k: Inks): EChartsCoreOption => ({
    grid: { left: 66, right: 24, top: 18, bottom: 46 },
    tooltip: {
      trigger: 'axis',
      confine: true,
      formatter: (rows: { seriesName: string; dataIndex: number }[]) => {
        const p = scale.rows[rows.find((r) => r.seriesName === 'document')?.dataIndex ?? -1]
        return p
          ? `${p.percent.toFixed(1)} %: code ${p.limited} limited, ${p.full} full<br>${cd(p.light)} cd/m²`
          : ''
      },
    },
    xAxis: axis(k, 'signal, %', { min: 0, max: 100 }),
    yAxis: axis(k, 'cd/m²', { nameGap: 46, ...(logarithmic ? { type: 'log', min: 0.01 } : { min: 0 }) }),
    series: [
      {
        type: 'line' as const,
        name: 'document',
        showSymbol: false,
        data: scale.rows.filter((r) => !logarithmic || r.light > 0).map((r) => [r.percent, r.light]),
        lineStyle: { color: k.signal, width: 2.5 },
      },
      {
        type: 'scatter' as const,
        name: 'measured',
        symbolSize: 10,
        data: (track?.points ?? []).map((p) => [p.signal, p.light]),
        itemStyle: { color: k.plate, borderColor: k.ink, borderWidth: 2 },
      },
    ],
  })
}
