// A title’s modes as somebody types them.

// "quality 30, performance 60" or "30 60": a word before a rate names that mode.
export function modes(text: string): { fps: number; name: string }[] {
  const out: { fps: number; name: string }[] = []
  let word = ''
  for (const part of text.split(/[\s,;/]+/).filter(Boolean)) {
    if (/^\d+$/.test(part)) {
      out.push({ fps: Number(part), name: word })
      word = ''
    } else word = word ? `${word} ${part}` : part
  }
  return out
}
