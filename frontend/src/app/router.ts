import { createRouter, createWebHistory } from 'vue-router'

import { SHEETS, type SheetInfo } from './sheets'

const SHEET_VIEWS: Record<SheetInfo['id'], () => Promise<unknown>> = {
  brief: () => import('../sheets/brief/BriefSheet.vue'),
  gear: () => import('../sheets/gear/GearSheet.vue'),
  wiring: () => import('../sheets/wiring/WiringSheet.vue'),
  signal: () => import('../sheets/signal/SignalSheet.vue'),
  settings: () => import('../sheets/settings/SettingsSheet.vue'),
  runsheet: () => import('../sheets/runsheet/RunSheet.vue'),
  prove: () => import('../sheets/prove/ProveSheet.vue'),
  fault: () => import('../sheets/fault/FaultSheet.vue'),
  light: () => import('../sheets/light/LightSheet.vue'),
  lag: () => import('../sheets/lag/LagSheet.vue'),
  handover: () => import('../sheets/handover/HandoverSheet.vue'),
  visits: () => import('../sheets/visits/VisitsSheet.vue'),
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
    { path: '/practice', name: 'practice', component: () => import('../sheets/practice/PracticePage.vue') },
    { path: '/shelf', name: 'shelf', component: () => import('../sheets/gear/shelf/ShelfView.vue') },
    { path: '/link', name: 'link', component: () => import('../sheets/scratch/ScratchLink.vue') },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
})
