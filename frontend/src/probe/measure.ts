// What a browser can measure of itself: frame times, the size and range of its picture, gamepads.

export interface Frames {
  kind: 'frames'
  times_us: number[]
  hidden: number
}
export interface Browser {
  kind: 'browser'
  width: number
  height: number
  ratio_thousandths: number
  gamut: 'srgb' | 'p3' | 'rec2020' | null
  high_range: boolean | null
  colour_bits: number | null
  pads: number
  pad_interval_us: number | null
}

export const MEASURE_SECONDS = 12
const MOST_FRAMES = 8000
const US = 1000

// Frame times for some seconds, from the browser's own clock; `told` hears how far it is, 0 to 1.
export function frames(seconds: number, told: (share: number) => void): Promise<Frames> {
  return new Promise((done) => {
    const times: number[] = []
    let hidden = document.hidden ? 1 : 0
    const look = () => {
      if (document.hidden) hidden++
    }
    document.addEventListener('visibilitychange', look)
    const step = (now: number) => {
      times.push(Math.round(now * US))
      const first = times[0] ?? 0
      const share = (Math.round(now * US) - first) / (seconds * US * US)
      told(Math.min(1, share))
      if (share < 1 && times.length < MOST_FRAMES) {
        requestAnimationFrame(step)
        return
      }
      document.removeEventListener('visibilitychange', look)
      // the first frame waits for the page: it is not one of a row
      const start = times[1] ?? first
      done({ kind: 'frames', times_us: times.slice(1).map((t) => t - start), hidden })
    }
    requestAnimationFrame(step)
  })
}

// Does a media query hold; null where the browser does not know the question.
function asked(query: string): boolean | null {
  const list = window.matchMedia(query)
  return list.media === 'not all' ? null : list.matches
}

function gamut(): Browser['gamut'] {
  const answers = (['rec2020', 'p3', 'srgb'] as const).map((g) => ({ g, has: asked(`(color-gamut: ${g})`) }))
  if (answers.every((a) => a.has === null)) return null
  return answers.find((a) => a.has)?.g ?? null
}

interface Pads {
  pads: number
  pad_interval_us: number | null
}

// How many gamepads there are, and how often the first one reports while it is moved. Their names are not asked.
export function gamepads(seconds: number): Promise<Pads> {
  const list = () => (navigator.getGamepads ? navigator.getGamepads().filter((p) => p !== null) : [])
  return new Promise((done) => {
    const stamps: number[] = []
    const end = performance.now() + seconds * US
    const look = () => {
      const first = list()[0]
      const at = first?.timestamp
      if (at && at !== stamps[stamps.length - 1]) stamps.push(at)
      if (performance.now() < end) {
        window.setTimeout(look, 0)
        return
      }
      const gaps = stamps.slice(1).map((t, n) => t - (stamps[n] ?? t))
      gaps.sort((a, b) => a - b)
      const middle = gaps.length >= 8 ? gaps[Math.floor(gaps.length / 2)] : undefined
      done({ pads: Math.min(16, list().length), pad_interval_us: middle ? Math.round(middle * US) : null })
    }
    look()
  })
}

export function browser(pads: Pads): Browser {
  const ratio = Math.round((window.devicePixelRatio || 1) * 1000)
  return {
    kind: 'browser',
    width: Math.max(1, screen.width),
    height: Math.max(1, screen.height),
    ratio_thousandths: ratio,
    gamut: gamut(),
    high_range: asked('(dynamic-range: high)'),
    colour_bits: screen.colorDepth || null,
    ...pads,
  }
}
