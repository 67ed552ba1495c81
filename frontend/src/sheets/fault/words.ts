// Shares and times as they are said on this sheet.

export const percent = (share: number): string =>
  share > 0.995 ? '> 99 %' : share < 0.005 ? '< 1 %' : `${Math.round(share * 100)} %`

export const seconds = (s: number): string => (s < 90 ? `${s} s` : `${Math.round(s / 60)} min`)

// With Shift: digits alone choose runs.
export const OUTCOME_KEYS = ['A', 'B', 'C', 'D', 'E']
