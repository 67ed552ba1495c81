// The front end's own arrows: no file imports another in a circle. (Rooms are held apart by the linter.)
import { readdirSync, readFileSync } from 'node:fs'
import { dirname, resolve } from 'node:path'
import { expect, test } from 'vitest'

const SRC = resolve(__dirname, '../src')
const files = readdirSync(SRC, { recursive: true, encoding: 'utf8' })
  .filter((f) => /\.(ts|vue)$/.test(f))
  .map((f) => resolve(SRC, f))

function importsOf(file: string): string[] {
  const text = readFileSync(file, 'utf8')
  return [...text.matchAll(/from '(\.[^']+)'|import\('(\.[^']+)'\)/g)].flatMap((m) => {
    const to = resolve(dirname(file), m[1] ?? m[2] ?? '')
    return files.filter((f) => f === to || f === `${to}.ts`)
  })
}

test('no file imports another that imports it again, at any distance', () => {
  const done = new Set<string>()
  const circles: string[] = []
  const walk = (file: string, trail: string[]) => {
    if (trail.includes(file)) circles.push([...trail, file].map((f) => f.slice(SRC.length)).join(' → '))
    if (done.has(file) || trail.includes(file)) return
    importsOf(file).forEach((next) => walk(next, [...trail, file]))
    done.add(file)
  }
  files.forEach((f) => walk(f, []))
  expect(circles).toEqual([])
})
