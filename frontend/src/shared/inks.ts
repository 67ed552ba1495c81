// The look's colours and fonts as values, for figures that are drawn and cannot read style sheets.
export interface Inks {
  ink: string
  ink2: string
  rule: string
  ruleStrong: string
  plate: string
  signal: string
  signalSoft: string
  blocked: string
  tight: string
  body: string
  figure: string
}

export function inks(): Inks {
  const style = getComputedStyle(document.documentElement)
  const token = (name: string) => style.getPropertyValue(`--${name}`).trim()
  return {
    ink: token('ink'),
    ink2: token('ink-2'),
    rule: token('rule'),
    ruleStrong: token('rule-strong'),
    plate: token('plate'),
    signal: token('signal'),
    signalSoft: token('signal-soft'),
    blocked: token('blocked'),
    tight: token('tight'),
    body: token('body'),
    figure: token('figure'),
  }
}
