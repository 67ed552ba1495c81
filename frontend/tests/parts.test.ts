import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'

import { handleKey, keysOn, shortcuts, switchKeys } from '../src/shared/keys'
import CarryTable from '../src/shared/CarryTable.vue'
import VerdictIcon from '../src/shared/VerdictIcon.vue'
import { metres, percent } from '../src/shared/words'

describe('a verdict', () => {
  it.each(['fits', 'tight', 'compressed', 'blocked', 'unknown'] as const)(
    '%s is a shape and a word',
    (verdict) => {
      const icon = mount(VerdictIcon, { props: { verdict } })
      expect(icon.text()).toBe(verdict)
      expect(icon.find('svg').element.children.length).toBeGreaterThan(0)
    },
  )
})

describe('figures', () => {
  it('says unknown, never zero', () => {
    expect(percent(null)).toBe('?')
    expect(metres(null)).toBe('length not measured')
    expect(metres(1500)).toBe('1.5 m')
    expect(percent(91.94)).toBe('92 %')
  })
})

const cell = (verdict: string, text: string) => ({
  encoding: 'rgb',
  bits: 8,
  verdict,
  used_percent: null,
  stopped_by: null,
  text,
  said: `${text} as said`,
})
const table = {
  columns: [{ encoding: 'rgb', bits: 8, name: 'RGB, 4:4:4', deep: false, full: true }],
  rows: [
    {
      mode: '3840x2160@120',
      name: '2160p120',
      width: 3840,
      height: 2160,
      hz: 120,
      timing: 'vic:118',
      family: 'VIC 118',
      wanted: true,
      fast: true,
      carried: false,
      cells: [cell('blocked', '198 %')],
    },
    {
      mode: '1920x1080@60',
      name: '1080p60',
      width: 1920,
      height: 1080,
      hz: 60,
      timing: 'vic:16',
      family: 'VIC 16',
      wanted: false,
      fast: false,
      carried: true,
      cells: [cell('fits', '75 %')],
    },
  ],
}

describe('the table of modes', () => {
  const shown = (filter: string) =>
    mount(CarryTable, { props: { table: table as never, chosen: null, filter } })
  it('shows what each square says, and reads out the whole of it', () => {
    const whole = shown('all')
    expect(whole.text()).toContain('198 %')
    expect(whole.findAll('td button')[1]?.attributes('aria-label')).toBe(
      '1080p60 RGB, 4:4:4 8-bit: fits, 75 % as said',
    )
  })
  it('keeps to the filter', () => {
    expect(shown('fits').findAll('tbody tr')).toHaveLength(1)
    expect(shown('hdr').findAll('tbody td')).toHaveLength(0)
    expect(shown('full').findAll('tbody td')).toHaveLength(2)
    expect(shown('fast').text()).toContain('VIC 118')
  })
  it('tells which cell is chosen', async () => {
    const whole = shown('all')
    await whole.findAll('td button')[1]?.trigger('click')
    expect(whole.emitted('choose')?.[0]).toEqual([{ mode: '1920x1080@60', encoding: 'rgb', bits: 8 }])
  })
})

describe('single keys', () => {
  it('fire, the latest registration first, and not while typing or switched off', () => {
    const fired: string[] = []
    shortcuts.value = [
      { key: '1', does: 'run', run: () => fired.push('run') },
      { key: '1', does: 'option', run: () => fired.push('option') },
    ]
    const press = (target: EventTarget) => {
      const event = new KeyboardEvent('keydown', { key: '1', cancelable: true })
      Object.defineProperty(event, 'target', { value: target })
      handleKey(event)
    }
    press(document.body)
    const field = document.createElement('input')
    press(field)
    switchKeys(false)
    press(document.body)
    switchKeys(true)
    expect(fired).toEqual(['option'])
    expect(keysOn.value).toBe(true)
  })
})
