// The patterns, drawn dot by dot on a canvas as large as the screen. All of our own making.

export interface Scene {
  ctx: CanvasRenderingContext2D
  w: number
  h: number
  frame: number
  ms: number
  turn?: number // how often somebody asked for the next
}
type Draw = (s: Scene) => void

const BLACK = '#000'
const WHITE = '#fff'
const grey = (v: number) => `rgb(${v},${v},${v})`

function ground({ ctx, w, h }: Scene, colour: string) {
  ctx.fillStyle = colour
  ctx.fillRect(0, 0, w, h)
}
function text({ ctx, h }: Scene, words: string, x: number, y: number, colour: string, share = 0.03) {
  ctx.fillStyle = colour
  ctx.font = `600 ${Math.max(14, Math.round(h * share))}px sans-serif`
  ctx.textAlign = 'center'
  ctx.textBaseline = 'middle'
  ctx.fillText(words, x, y)
}

// A bar that stands in each of its places for one frame. What the eye or a long exposure adds up must be even.
const PLACES = 24
const steps: Draw = (s) => {
  ground(s, '#101418')
  const wide = s.w / PLACES
  const at = s.frame % PLACES
  s.ctx.fillStyle = '#e8e2d0'
  s.ctx.fillRect(Math.round(at * wide), 0, Math.ceil(wide * 0.86), s.h)
  for (let n = 0; n < PLACES; n++) {
    s.ctx.fillStyle = n === at ? BLACK : '#39424e'
    s.ctx.fillRect(Math.round(n * wide), Math.round(s.h * 0.5) - 1, Math.ceil(wide * 0.86), 2)
  }
  text(s, String(s.frame % 1000).padStart(3, '0'), (at + 0.43) * wide, s.h * 0.42, BLACK, 0.03)
  text(s, String(s.frame).padStart(6, '0'), s.w / 2, s.h * 0.12, '#7f8896', 0.05)
}

// Lines of one dot in both directions, and small words in colours that differ in hue alone.
const lines: Draw = (s) => {
  ground(s, BLACK)
  const { ctx, w, h } = s
  const half = Math.floor(w / 2)
  const third = Math.floor(h / 3)
  ctx.fillStyle = WHITE
  for (let x = 0; x < half; x += 2) ctx.fillRect(x, 0, 1, third)
  for (let y = 0; y < third; y += 2) ctx.fillRect(half, y, w - half, 1)
  for (let x = 0; x < half; x += 2) {
    ctx.fillStyle = x % 4 ? '#f00' : '#00f'
    ctx.fillRect(x, third, 1, Math.floor(third / 2))
  }
  for (let y = 0; y < third / 2; y += 2) {
    ctx.fillStyle = y % 4 ? '#f0f' : '#0a0'
    ctx.fillRect(half, third + y, w - half, 1)
  }
  const words: [string, string, string][] = [
    [WHITE, BLACK, 'white on black, for comparison'],
    ['#f00', BLACK, 'red on black is as sharp'],
    ['#00f', BLACK, 'blue on black is as sharp'],
    ['#f0f', '#007000', 'magenta on green is as sharp'],
    ['#00f', '#a00000', 'blue on red is as sharp'],
  ]
  const top = third * 1.5
  const row = (h * 0.82 - top) / words.length
  words.forEach(([ink, paper, said], n) => {
    ctx.fillStyle = paper
    ctx.fillRect(w * 0.2, top + n * row, w * 0.6, row)
    text(s, said, w / 2, top + (n + 0.5) * row, ink, 0.02)
  })
}

// Frames that lie ever further in, said in hundredths of the picture, and rings to see its shape by.
const edges: Draw = (s) => {
  ground(s, '#20262e')
  const { ctx, w, h } = s
  for (const [inset, colour] of [
    [0, WHITE],
    [0.01, '#e0b040'],
    [0.025, '#60c0a0'],
    [0.05, '#8090e0'],
  ] as [number, string][]) {
    const x = Math.round(w * inset)
    const y = Math.round(h * inset)
    ctx.strokeStyle = colour
    ctx.lineWidth = inset ? 2 : 1
    const dot = ctx.lineWidth / 2
    ctx.strokeRect(x + dot, y + dot, w - 2 * x - 2 * dot, h - 2 * y - 2 * dot)
    if (inset) text(s, `${inset * 100} %`, w * (0.3 + inset * 8), y + h * 0.026, colour, 0.024)
  }
  ctx.lineWidth = 3
  ctx.strokeStyle = WHITE
  const ring = (x: number, y: number, r: number) => {
    ctx.beginPath()
    ctx.arc(x, y, r, 0, 2 * Math.PI)
    ctx.stroke()
  }
  ring(w / 2, h * 0.46, h * 0.3)
  ctx.strokeRect(w / 2 - h * 0.3, h * 0.16, h * 0.6, h * 0.6)
  for (const x of [h * 0.14, w - h * 0.14]) for (const y of [h * 0.16, h * 0.76]) ring(x, y, h * 0.07)
}

// Two grounds beside each other: where full range ends, and where limited range does; patches each so many steps off.
const STEPS_OFF = [1, 2, 3, 4, 6, 8, 12, 16]
const ACROSS = 4
function patches(s: Scene, grounds: [number, string][], sign: 1 | -1) {
  grounds.forEach(([base, name], half) => {
    const left = (half * s.w) / 2
    s.ctx.fillStyle = grey(base)
    s.ctx.fillRect(left, 0, s.w / 2, s.h)
    const ink = grey(sign > 0 ? 110 : 140)
    text(s, name, left + s.w / 4, s.h * 0.07, ink)
    STEPS_OFF.forEach((step, n) => {
      const x = left + s.w * (0.05 + (n % ACROSS) * 0.105)
      const y = s.h * (n < ACROSS ? 0.14 : 0.46)
      s.ctx.fillStyle = grey(base + sign * step)
      s.ctx.fillRect(x, y, s.w * 0.085, s.h * 0.2)
      text(s, String(step), x + s.w * 0.042, y + s.h * 0.24, ink)
    })
  })
}
const black: Draw = (s) =>
  patches(
    s,
    [
      [0, 'full range: 0 and up'],
      [16, 'limited range: 16 and up'],
    ],
    1,
  )
const white: Draw = (s) =>
  patches(
    s,
    [
      [255, 'full range: 255 and down'],
      [235, 'limited range: 235 and down'],
    ],
    -1,
  )

// Dark and bright bars on grey, from wide to one dot, and a fine ring: seams beside them are of the screen's making.
const sharp: Draw = (s) => {
  ground(s, grey(128))
  let x = s.w * 0.08
  for (const wide of [40, 24, 12, 6, 3, 2, 1]) {
    s.ctx.fillStyle = grey(40)
    s.ctx.fillRect(Math.round(x), s.h * 0.12, wide, s.h * 0.5)
    s.ctx.fillStyle = grey(216)
    s.ctx.fillRect(Math.round(x + s.w * 0.05), s.h * 0.12, wide, s.h * 0.5)
    x += s.w * 0.11
  }
  s.ctx.strokeStyle = grey(30)
  s.ctx.lineWidth = 1
  s.ctx.beginPath()
  s.ctx.arc(s.w * 0.86, s.h * 0.38, s.h * 0.16, 0, 2 * Math.PI)
  s.ctx.stroke()
}

// Two slow ramps: the upper one in stairs four values high, the lower one as fine as the browser gives it.
const GRADES = 64
const grades: Draw = (s) => {
  ground(s, BLACK)
  for (let x = 0; x < s.w; x++) {
    const value = 16 + (GRADES * x) / s.w
    s.ctx.fillStyle = grey(4 * Math.floor(value / 4))
    s.ctx.fillRect(x, s.h * 0.08, 1, s.h * 0.32)
    s.ctx.fillStyle = grey(Math.floor(value))
    s.ctx.fillRect(x, s.h * 0.44, 1, s.h * 0.32)
  }
}

// A block that crosses the picture, and three drawings of its edge to compare it with.
const trail: Draw = (s) => {
  ground(s, grey(96))
  const wide = s.h * 0.2
  const x = ((s.ms * s.w) / 4000) % (s.w + wide)
  s.ctx.fillStyle = grey(200)
  s.ctx.fillRect(Math.round(x - wide), s.h * 0.14, wide, s.h * 0.3)
  ;['clean', 'trail', 'bright'].forEach((kind, n) => {
    const left = s.w * (0.2 + n * 0.26)
    const at = s.h * 0.52
    const high = s.h * 0.18
    const dot = s.h * 0.006
    for (let k = 0; k < 8 && kind !== 'clean'; k++) {
      const value = kind === 'trail' ? 200 - (k + 1) * 13 : 96 + (8 - k) * 18
      if (kind === 'bright' && k > 3) break
      s.ctx.fillStyle = grey(kind === 'bright' ? Math.min(255, 200 + (4 - k) * 14) : value)
      s.ctx.fillRect(left - (k + 1) * dot, at, dot, high)
    }
    s.ctx.fillStyle = grey(200)
    s.ctx.fillRect(left, at, s.h * 0.12, high)
    text(s, `drawing ${n + 1}`, left + s.h * 0.06, at + high + s.h * 0.03, '#000', 0.022)
  })
}

// A patch lights once a second; the click is made by whoever runs the scene, at the same moment.
export const FLASH_MS = 1000
export const LIT_MS = 80
export const sideAt = (ms: number) => (Math.floor(ms / FLASH_MS) % 2 ? 'right' : 'left')
const sound: Draw = (s) => {
  ground(s, '#101418')
  const lit = s.ms % FLASH_MS < LIT_MS
  const side = sideAt(s.ms)
  const x = side === 'left' ? s.w * 0.25 : s.w * 0.75
  s.ctx.fillStyle = lit ? '#e8e2d0' : '#39424e'
  s.ctx.fillRect(x - s.h * 0.14, s.h * 0.22, s.h * 0.28, s.h * 0.28)
  text(s, side, x, s.h * 0.6, '#e8e2d0', 0.06)
}

// A patch of a stated share of the picture on black, at a stated level: what a meter reads.
const PATCHES: [number, number][] = [
  [10, 100],
  [2, 100],
  [25, 100],
  [50, 100],
  [100, 100],
  [10, 75],
  [10, 50],
  [10, 25],
  [10, 0],
]
const patch: Draw = (s) => {
  const turn = s.turn ?? 0
  const [share, level] = PATCHES[((turn % PATCHES.length) + PATCHES.length) % PATCHES.length] ?? [10, 100]
  ground(s, BLACK)
  const side = Math.sqrt(share / 100)
  const w = Math.round(s.w * side)
  const h = Math.round(s.h * side)
  s.ctx.fillStyle = grey(Math.round((255 * level) / 100))
  s.ctx.fillRect(Math.round((s.w - w) / 2), Math.round((s.h - h) / 2), w, h)
  text(s, `${share} %, signal ${level} %`, s.w * 0.09, s.h * 0.03, share === 100 ? BLACK : '#3a3a3a', 0.018)
}

export const DRAWINGS: Record<string, Draw> = {
  patch,
  steps,
  lines,
  edges,
  black,
  white,
  sharp,
  grades,
  trail,
  sound,
}
