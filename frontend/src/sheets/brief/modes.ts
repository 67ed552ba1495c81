// A title’s modes as somebody types them.

export interface TypedMode {
  fps: number
  name: string
  lines?: number
}
const MOST_FPS = 240 // a larger number is lines
const SIZES: Record<string, number> = { '4k': 2160, '8k': 4320, uhd: 2160, qhd: 1440, fhd: 1080, hd: 720 }

// `2160p60`, `1440p`, `4K`, `4K60`, `60`, `2160`: lines, a rate, or both; null: a word.
function figures(part: string): { fps?: number; lines?: number } | null {
  const size = /^(8k|4k|uhd|qhd|fhd|hd)(\d+)?$/i.exec(part)
  if (size)
    return { lines: SIZES[size[1]?.toLowerCase() ?? ''], ...(size[2] ? { fps: Number(size[2]) } : {}) }
  const both = /^(\d{3,4})[pi](\d+)?$/i.exec(part)
  if (both) return { lines: Number(both[1]), ...(both[2] ? { fps: Number(both[2]) } : {}) }
  const number = /^(\d+)(?:fps|hz)?$/i.exec(part)
  if (!number) return null
  const n = Number(number[1])
  return n > MOST_FPS ? { lines: n } : { fps: n }
}

// "quality 30, performance 60", "30 60", "60 quality 2160", "quality 4K60": words name the mode they stand with.
export function modes(text: string): TypedMode[] {
  return text.split(/[,;/]+/).flatMap(together)
}

// One rate in a piece: its words are the mode’s name, wherever they stand. Several: a word names the rate after it.
function together(piece: string): TypedMode[] {
  const parts = piece.split(/\s+/).filter(Boolean)
  const rates = parts.filter((p) => figures(p)?.fps !== undefined)
  if (rates.length === 1) {
    const all = parts.map((p) => figures(p)).filter((f) => f !== null)
    const name = parts.filter((p) => !figures(p)).join(' ')
    const lines = all.find((f) => f.lines)?.lines
    return [{ fps: all.find((f) => f.fps !== undefined)?.fps ?? 0, name, ...(lines ? { lines } : {}) }]
  }
  const out: TypedMode[] = []
  let name = ''
  for (const part of parts) {
    const f = figures(part)
    if (!f) name = name ? `${name} ${part}` : part
    else if (f.fps !== undefined) {
      out.push({ fps: f.fps, name, ...(f.lines ? { lines: f.lines } : {}) })
      name = ''
    } else if (out.length) Object.assign(out[out.length - 1] ?? {}, { lines: f.lines })
  }
  return out
}

// The same back as somebody would type it.
export const typed = (list: { fps: number; name: string; lines?: number | null }[]) =>
  list.map((m) => [m.name, m.lines ? `${m.lines}p${m.fps}` : `${m.fps}`].filter(Boolean).join(' ')).join(', ')
