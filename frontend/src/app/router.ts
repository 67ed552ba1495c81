import { createRouter, createWebHistory } from 'vue-router'

// A sheet's key is its shortcut and, on narrow screens, its sign in the rail.
export interface SheetInfo {
  id: 'brief' | 'gear' | 'wiring' | 'signal' | 'settings' | 'runsheet' | 'lag' | 'handover'
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
  { id: 'lag', name: 'Lag', key: 'L', tape: 'line', why: 'own' },
  { id: 'handover', name: 'Hand-over', key: 'H', tape: 'none', why: 'none' },
]

const SHEET_VIEWS: Record<SheetInfo['id'], () => Promise<unknown>> = {
  brief: () => import('../sheets/brief/BriefSheet.vue'),
  gear: () => import('../sheets/gear/GearSheet.vue'),
  wiring: () => import('../sheets/wiring/WiringSheet.vue'),
  signal: () => import('../sheets/signal/SignalSheet.vue'),
  settings: () => import('../sheets/settings/SettingsSheet.vue'),
  runsheet: () => import('../sheets/runsheet/RunSheet.vue'),
  lag: () => import('../sheets/lag/LagSheet.vue'),
  handover: () => import('../sheets/handover/HandoverSheet.vue'),
}

export const router = createRouter({
  history: createWebHistory('/'),
  routes: [
    { path: '/', name: 'jobs', component: () => import('./JobList.vue') },
    { path: '/enter', name: 'enter', component: () => import('./SignIn.vue') },
    {
      path: '/jobs/:job',
      component: () => import('./JobShell.vue'),
      redirect: (to) => `/jobs/${String(to.params.job)}/wiring`,
      children: SHEETS.map((sheet) => ({
        path: sheet.id,
        name: sheet.id,
        component: SHEET_VIEWS[sheet.id],
        meta: { sheet },
      })),
    },
    { path: '/counter', name: 'counter', component: () => import('../sheets/counter/CounterPage.vue') },
    { path: '/link', name: 'link', component: () => import('../sheets/scratch/ScratchLink.vue') },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
})
