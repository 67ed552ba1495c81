import { flushPromises, mount } from '@vue/test-utils'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'

import { api, type Retro } from '../src/api/client'
import { session } from '../src/shared/session'
import { useJob } from '../src/shared/job'
import AnalogueFields from '../src/sheets/gear/editor/AnalogueFields.vue'
import type { GearWords, PortPart } from '../src/sheets/gear/editor/draft'
import TakesRow from '../src/sheets/gear/editor/TakesRow.vue'
import MultipleTable from '../src/sheets/signal/MultipleTable.vue'

const ok = (data: unknown) => ({ data, response: { ok: true, status: 200 } })
const refused = (detail: string) => ({
  error: { status: 422, code: 'signal_malformed', title: '', detail, where: '', request_id: '' },
  response: { ok: false, status: 422 },
})
const WORDS = {
  syncs: [
    { id: 'on_picture', name: 'sync on the picture wire' },
    { id: 'separate', name: 'sync on a wire of its own' },
  ],
  colours: [{ id: 'pal', name: 'PAL' }],
  treatments: [{ id: 'correct', name: 'takes it as it is' }],
  levels: [{ id: '75_ohm', name: '75 ohm' }],
} as unknown as GearWords

describe('an analogue socket in the editor', () => {
  beforeEach(() => {
    setActivePinia(createPinia())
    vi.restoreAllMocks()
  })
  const draw = (port: PortPart) =>
    mount(AnalogueFields, { props: { port, words: WORDS }, global: { plugins: [VueQueryPlugin] } })

  it('keeps a signal as it was typed, and says what was guessed', async () => {
    const scan = { dot_clock_hz: '13500000', dots: '858', lines: 262, active: '720x240' }
    vi.spyOn(api, 'POST').mockResolvedValue(
      ok({ name: '262 lines', active: '720x240', guessed: 'its dot clock', scan }) as never,
    )
    const port: PortPart = { id: 'a', label: 'A', direction: 'out', kind: 'analogue', connector: 'scart' }
    const part = draw(port)
    await part.find('input').setValue('240p')
    await part.find('form').trigger('submit')
    await flushPromises()
    expect(port.sends).toEqual([scan])
    expect(part.text()).toContain('A guess stands in for its dot clock')
  })

  it('leaves everything as it is where a signal cannot be read', async () => {
    vi.spyOn(api, 'POST').mockResolvedValue(refused('the line rate is missing') as never)
    const port: PortPart = { id: 'a', label: 'A', direction: 'out', kind: 'analogue', connector: 'scart' }
    const part = draw(port)
    await part.find('input').setValue('262 lines')
    await part.find('form').trigger('submit')
    await flushPromises()
    expect(port.sends).toBeUndefined()
    expect(part.find('[role=alert]').text()).toBe('the line rate is missing')
    expect((part.find('input').element as HTMLInputElement).value).toBe('262 lines')
  })

  it('leaves scan rates unknown until one is added, and again when the last is taken out', async () => {
    const port: PortPart = { id: 'a', label: 'A', direction: 'in', kind: 'analogue', connector: 'scart' }
    const part = draw(port)
    expect(part.text()).toContain('Nobody knows yet.')
    const button = (text: string) => part.findAll('button').find((b) => b.text() === text)
    await button('+ 15 kHz')?.trigger('click')
    expect(port.takes).toEqual([{ line_khz: [15.5, 16], hz: [49, 62] }])
    await part.setProps({ port: { ...port } })
    await button('Take out')?.trigger('click')
    expect(part.props('port').takes).toBeUndefined()
  })

  it('lists sync kinds only where some were ticked: left out means all of them', async () => {
    const row = mount(TakesRow, {
      props: { words: WORDS, plug: 'scart', modelValue: { line_khz: [15, 16], hz: [49, 62] } },
    })
    expect(row.text()).toContain('Sync it reads: all')
    await row.findAll('input[type=checkbox]')[1]?.setValue(true)
    expect(row.emitted('update:modelValue')?.[0]?.[0]).toMatchObject({ syncs: ['separate'] })
    await row.setProps({ modelValue: { line_khz: [15, 16], hz: [49, 62], syncs: ['separate'] } })
    await row.findAll('input[type=checkbox]')[1]?.setValue(false)
    expect(row.emitted('update:modelValue')?.[1]?.[0]).not.toHaveProperty('syncs')
  })
})

describe('the multiplier table', () => {
  const multiple = (times: number, set: boolean): Retro['multiples'][number] => ({
    times,
    sampling: 'whole_line',
    active: '1280×720',
    line_khz: 47.2,
    lines: 786,
    vertical_hz: 60.05,
    pixel_clock_mhz: 77.9,
    nearest: 'vic:4',
    nearest_name: '720p60',
    tmds_gbps: 2.34,
    off_percent: 0.09,
    way: '',
    set,
    ops: set ? [] : [{ op: 'set_setting', device: 'box', key: 'multiple', value: 'x4' }],
  })
  const answer = (word: 'sure' | 'no'): Retro['screens'][number]['answers'][number] => ({
    answer: word,
    why: 'because',
    tried: false,
    scale: '',
    even: null,
    fact: { device: 'tv', path: 'tried' },
  })
  it('marks the multiple that is set, and plans another', async () => {
    setActivePinia(createPinia())
    session.value = { name: 'tech', role: 'technician', demo: false }
    const screens = [
      {
        words: 'sure 2×; no 3×',
        screen: 'TV',
        input: 'TV · 1',
        here: true,
        answers: [answer('sure'), answer('no')],
      },
      {
        words: 'sure 2×, 3×',
        screen: 'OLD',
        input: 'OLD · 1',
        here: false,
        answers: [answer('sure'), answer('sure')],
      },
    ]
    const change = vi.spyOn(useJob(), 'change').mockResolvedValue(undefined as never)
    const table = mount(MultipleTable, {
      props: { multiples: [multiple(2, false), multiple(3, true)], screens },
    })
    expect(table.find('tr.now').text()).toContain('3×')
    expect(table.find('tr.now').text()).toContain('as set')
    await table.find('[aria-label="Plan 2× whole lines"]').trigger('click')
    expect(change).toHaveBeenCalledWith(
      [expect.objectContaining({ op: 'set_setting', value: 'x4' })],
      '2× planned',
    )
    expect(table.find('h2').text()).toBe('TV · 1: sure 2×; no 3×')
    await table.findAll('.picks button')[1]?.trigger('click')
    expect(table.find('h2').text()).toBe('OLD · 1: sure 2×, 3×')
  })
})
