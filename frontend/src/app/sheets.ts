// The sheets in working order.

// A sheet's key is its shortcut and, on narrow screens, its sign in the rail.
export interface SheetInfo {
  id:
    | 'brief'
    | 'gear'
    | 'wiring'
    | 'signal'
    | 'settings'
    | 'runsheet'
    | 'prove'
    | 'fault'
    | 'light'
    | 'lag'
    | 'handover'
    | 'visits'
  name: string
  key: string
  tape: 'full' | 'line' | 'none'
  why: 'run' | 'own' | 'none'
}

export const SHEETS: SheetInfo[] = [
  { id: 'brief', name: 'Brief', key: 'B', tape: 'full', why: 'run' },
  { id: 'gear', name: 'Gear', key: 'G', tape: 'full', why: 'run' },
  { id: 'wiring', name: 'Wiring', key: 'W', tape: 'full', why: 'run' },
  { id: 'signal', name: 'Signal', key: 'S', tape: 'full', why: 'own' },
  { id: 'settings', name: 'Settings', key: 'I', tape: 'full', why: 'run' },
  { id: 'runsheet', name: 'Run sheet', key: 'E', tape: 'line', why: 'none' },
  { id: 'prove', name: 'Prove', key: 'V', tape: 'line', why: 'own' },
  { id: 'fault', name: 'Fault', key: 'F', tape: 'line', why: 'own' },
  { id: 'light', name: 'Light', key: 'O', tape: 'none', why: 'own' },
  { id: 'lag', name: 'Lag', key: 'L', tape: 'line', why: 'own' },
  { id: 'handover', name: 'Hand-over', key: 'H', tape: 'none', why: 'none' },
  { id: 'visits', name: 'Visits', key: 'T', tape: 'none', why: 'none' },
]
