// Lights and shares as the sheet says them; a note with nothing said but what it is of.
import type { LightNote } from '../../api/client'

export function cd(light: number): string {
  if (light >= 100) return light.toFixed(0)
  if (light >= 10) return light.toFixed(1)
  if (light >= 1) return light.toFixed(2)
  return light === 0 ? '0' : light.toPrecision(2)
}
export const figure = (text: string) => Number(text.replace(',', '.'))
export const TIMES: Record<string, string> = { day: 'by day', night: 'in the evening' }
export const WINDOWS = [2, 10, 25, 50, 100]
export const STRENGTHS = ['none', 'faint', 'clear', 'strong']

export function noteOf(kind: LightNote['kind'], device: string, more: Partial<LightNote> = {}): LightNote {
  const blank = { scope: '', value: '', figures: {}, text: '', meter: '', ref: '', screen: '', warmth: '' }
  return { kind, device, method: 'typed', ...blank, ...more }
}
