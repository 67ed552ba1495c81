// The page that a source opens on itself: it measures, sends home by its code, and shows patterns. No account, no cookie.
import '@fontsource-variable/atkinson-hyperlegible-next/wght.css'
import '@fontsource/spline-sans-mono/latin-600.css'

import './probe.css'
import { browser, frames, gamepads, MEASURE_SECONDS } from './measure'
import { show, type Pattern } from './show'

interface Hello {
  run: string
  unknowable: string
  warning: string
  patterns: Pattern[]
}
interface Kept {
  label: string
  observed: string
  predicted: string | null
  cause: string
}

const root = document.getElementById('probe') as HTMLElement
const code = decodeURIComponent(location.pathname.split('/')[2] ?? '').trim()
const PAD_SECONDS = 3

function el<K extends keyof HTMLElementTagNameMap>(name: K, words = '', kind = ''): HTMLElementTagNameMap[K] {
  const made = document.createElement(name)
  if (words) made.textContent = words
  if (kind) made.className = kind
  return made
}
const uid = () =>
  Array.from(crypto.getRandomValues(new Uint8Array(10)), (b) => b.toString(16).padStart(2, '0')).join('')

async function call<T>(body?: unknown): Promise<T> {
  const answer = await fetch(`/api/v1/probe/${encodeURIComponent(code)}`, {
    method: body ? 'POST' : 'GET',
    headers: body ? { 'Content-Type': 'application/json' } : {},
    body: body ? JSON.stringify(body) : undefined,
    credentials: 'omit',
  })
  const data = (await answer.json().catch(() => ({}))) as Record<string, unknown>
  if (!answer.ok) throw new Error(String(data.detail ?? 'The server is not reached.'))
  return data as T
}
const send = (data: unknown) => call<{ lines: Kept[] }>({ uid: uid(), data })

function askCode() {
  const form = el('form')
  const field = el('input')
  field.setAttribute('aria-label', 'Code')
  field.autocapitalize = 'off'
  field.autocomplete = 'off'
  field.maxLength = 40
  const go = el('button', 'Go', 'go')
  form.append(el('p', 'Type the code that stands on Prove.'), field, go)
  form.onsubmit = (e) => {
    e.preventDefault()
    location.assign(`/p/${encodeURIComponent(field.value.trim().toLowerCase())}`)
  }
  root.append(el('h1', 'Measure here'), form)
  field.focus()
}

function rows(kept: Kept[]): HTMLElement {
  const list = el('dl')
  for (const k of kept) {
    const said = el('dd', k.observed)
    if (k.predicted !== null) {
      const same = k.predicted === k.observed
      said.append(el('small', same ? 'as predicted' : `predicted: ${k.predicted}`, same ? 'same' : 'other'))
    }
    if (k.cause) said.append(el('small', k.cause))
    list.append(el('dt', k.label), said)
  }
  return list
}

function problem(error: unknown): HTMLElement {
  const line = el('p', error instanceof Error ? error.message : String(error), 'bad')
  line.setAttribute('role', 'alert')
  return line
}

// Gaps between frames by refreshes, in tenths: an even cadence is one bar at 1.
const TENTHS = 10
const MOST = 4
function bars(times: number[]): HTMLElement {
  const gaps = times.slice(1).map((t, n) => t - (times[n] ?? t))
  const middle = [...gaps].sort((a, b) => a - b)[Math.floor(gaps.length / 2)] || 1
  const bins = new Array<number>(MOST * TENTHS + 1).fill(0)
  for (const gap of gaps) {
    const at = Math.min(MOST * TENTHS, Math.round((TENTHS * gap) / middle))
    bins[at] = (bins[at] ?? 0) + 1
  }
  const box = el('div', '', 'bars')
  box.setAttribute('role', 'img')
  const most = Math.max(...bins)
  box.setAttribute('aria-label', `Gaps between frames: ${most} of ${gaps.length} are alike`)
  bins.forEach((count, n) => {
    const bar = el('i')
    bar.style.height = `${count ? Math.max(3, (60 * Math.log1p(count)) / Math.log1p(most)) : 0}px`
    if (n % TENTHS === 0) bar.dataset.at = String(n / TENTHS)
    box.append(bar)
  })
  return box
}

async function measure(place: HTMLElement) {
  const bar = el('progress')
  const words = el(
    'p',
    `Measuring for ${MEASURE_SECONDS} seconds: leave this page in front, and move a stick.`,
  )
  words.setAttribute('role', 'status')
  place.replaceChildren(words, bar)
  try {
    const pads = gamepads(PAD_SECONDS)
    const found = await frames(MEASURE_SECONDS, (share) => (bar.value = share))
    const kept = [...(await send(found)).lines, ...(await send(browser(await pads))).lines]
    const again = el('button', 'Measure again')
    again.onclick = () => void measure(place)
    const legend = el('p', 'Gaps between frames, in refreshes (bars by their logarithm)', 'quiet')
    place.replaceChildren(rows(kept), bars(found.times_us), legend, again)
    place.dataset.done = 'yes'
  } catch (error) {
    const again = el('button', 'Try again')
    again.onclick = () => void measure(place)
    place.replaceChildren(problem(error), again)
  }
}

function warned(hello: Hello): Promise<boolean> {
  return new Promise((done) => {
    const box = el('div', '', 'warning')
    box.setAttribute('role', 'alertdialog')
    const go = el('button', 'Everybody is warned: show it')
    const leave = el('button', 'Leave it', 'go')
    go.onclick = () => end(true)
    leave.onclick = () => end(false)
    const end = (yes: boolean) => {
      box.remove()
      done(yes)
    }
    box.append(el('p', hello.warning), leave, go)
    document.body.append(box)
    leave.focus()
  })
}

function patternList(hello: Hello): HTMLElement {
  const list = el('ul', '', 'patterns')
  let safe = false
  for (const p of hello.patterns) {
    const item = el('li')
    const open = el('button', p.title)
    open.dataset.pattern = p.id
    const note = el('small', p.why)
    open.onclick = async () => {
      if (p.moving && !safe) safe = await warned(hello)
      if (p.moving && !safe) return
      const answer = await show(p)
      open.focus()
      if (!answer) return
      try {
        const kept = await send({ kind: 'pattern', pattern: p.id, answer })
        note.textContent = `Kept: ${kept.lines[0]?.observed ?? ''}`
      } catch (error) {
        note.replaceChildren(problem(error))
      }
    }
    item.append(open, note)
    list.append(item)
  }
  return list
}

async function start() {
  if (!code) return askCode()
  root.append(el('p', 'Asking for what is to be measured…'))
  try {
    const hello = await call<Hello>()
    const place = el('section')
    place.id = 'measured'
    root.replaceChildren(
      el('h1', `Measure here: ${hello.run}`),
      place,
      el('h2', 'Patterns: say what you see'),
      patternList(hello),
      el('p', hello.unknowable, 'quiet'),
    )
    await measure(place)
  } catch (error) {
    root.replaceChildren(el('h1', 'Measure here'), problem(error))
  }
}
void start()
