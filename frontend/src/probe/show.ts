// A pattern over the whole screen until somebody says what is seen on it, or leaves it.
import { DRAWINGS, FLASH_MS, sideAt } from './draw'

export interface Pattern {
  id: string
  title: string
  see: string
  why: string
  moving: boolean
  answers: { id: string; says: string }[]
}

function clicker() {
  const Audio = window.AudioContext
  const audio = Audio ? new Audio() : null
  let last = -1
  return {
    at(ms: number) {
      const beat = Math.floor(ms / FLASH_MS)
      if (!audio || beat === last) return
      last = beat
      const tone = audio.createOscillator()
      const gain = audio.createGain()
      const pan = audio.createStereoPanner()
      pan.pan.value = sideAt(ms) === 'left' ? -1 : 1
      tone.frequency.value = 1000
      gain.gain.value = 0.2
      tone.connect(gain).connect(pan).connect(audio.destination)
      tone.start()
      tone.stop(audio.currentTime + 0.03)
    },
    end: () => void audio?.close(),
  }
}

// Resolves to the answer's id, or '' where it was left.
export function show(pattern: Pattern): Promise<string> {
  const draw = DRAWINGS[pattern.id]
  return new Promise((done) => {
    const room = document.createElement('div')
    room.className = 'scene'
    const canvas = document.createElement('canvas')
    const bar = document.createElement('div')
    bar.className = 'answers'
    const said = document.createElement('p')
    said.textContent = pattern.see
    bar.append(said)
    room.append(canvas, bar)
    document.body.classList.add('showing')
    document.body.append(room)
    void room.requestFullscreen?.().catch(() => undefined)
    const click = pattern.id === 'sound' ? clicker() : null
    let frame = 0
    let turn = 0
    let start = 0
    let handle = 0
    const size = () => {
      canvas.width = Math.round(room.clientWidth * window.devicePixelRatio)
      canvas.height = Math.round(room.clientHeight * window.devicePixelRatio)
    }
    const paint = (now: number) => {
      const ctx = canvas.getContext('2d')
      if (!start) start = now
      const ms = now - start
      if (ctx && draw) draw({ ctx, w: canvas.width, h: canvas.height, frame, ms, turn })
      click?.at(ms)
      frame++
      if (pattern.moving) handle = requestAnimationFrame(paint)
    }
    const again = () => {
      size()
      if (!pattern.moving) paint(performance.now())
    }
    const end = (answer: string) => {
      cancelAnimationFrame(handle)
      click?.end()
      window.removeEventListener('resize', again)
      document.removeEventListener('keydown', key)
      if (document.fullscreenElement) void document.exitFullscreen().catch(() => undefined)
      room.remove()
      document.body.classList.remove('showing')
      done(answer)
    }
    const key = (e: KeyboardEvent) => {
      if (e.key === 'Escape') end('')
      if (e.key === 'ArrowRight' || e.key === 'ArrowDown') next(1)
      if (e.key === 'ArrowLeft' || e.key === 'ArrowUp') next(-1)
    }
    const next = (by: number) => {
      turn += by
      if (!pattern.moving) paint(performance.now())
    }
    canvas.onclick = () => next(1)
    for (const a of [...pattern.answers, { id: '', says: 'Leave it' }]) {
      const button = document.createElement('button')
      button.textContent = a.says
      button.onclick = () => end(a.id)
      bar.append(button)
    }
    window.addEventListener('resize', again)
    document.addEventListener('keydown', key)
    size()
    bar.querySelector('button')?.focus()
    handle = requestAnimationFrame(paint)
  })
}
