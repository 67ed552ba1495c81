// The API, typed from its own document. Every refusal is a Problem.
import createClient from 'openapi-fetch'

import type { components, paths } from './schema'

type Schemas = components['schemas']
export type View = Schemas['ViewOut']
export type ChangedView = Schemas['ChangedView']
export type Run = Schemas['RunOut']
export type Device = Schemas['DeviceOut']
export type Lead = Schemas['LeadOut']
export type Link = Schemas['LinkOut']
export type Port = Schemas['PortOut']
export type Setting = Schemas['SettingOut']
export type Quantity = Schemas['QuantityOut']
export type Fix = Schemas['FixOut']
export type Part = Schemas['PartOut']
export type Fixes = Schemas['FixesOut']
export type Table = Schemas['TableOut']
export type Cell = Schemas['CellOut']
export type Row = Schemas['RowOut']
export type Line = Schemas['LineOut']
export type InputOption = Schemas['InputOption']
export type Profile = Schemas['ProfileOut']
export type ShelfRow = Schemas['ShelfRow']
export type ShelfEntry = Schemas['EntryOut']
export type OnShelf = Schemas['OnShelf']
export type Differs = Schemas['DiffersOut']
export type Template = Schemas['TemplateOut']
export type Question = Schemas['QuestionOut']
export type LagSession = Schemas['LagSessionOut']
export type PlanIn = Schemas['PlanIn']
export type Reading = Schemas['ReadingOut']
export interface LagCell {
  condition: string
  signal: string
  input: string
  position: '' | 'top' | 'middle' | 'bottom'
}
export type FilmState = Schemas['FilmState']
export type FilmTold = Schemas['FilmTold']
export type FilmMarks = Schemas['MarksIn']
export type FilmRect = Schemas['RectIn']
export type LagBudget = Schemas['BudgetOut']
export type Meter = Schemas['MeterOut']
export type Handover = Schemas['HandoverOut']
export type ClientPage = Schemas['ClientPage']
export type ClientLink = Schemas['ClientLinkOut']
export type Panel = Schemas['PanelOut']
export type PackWould = Schemas['PackWould']
export type RunSheet = Schemas['RunSheetOut']
export type Step = Schemas['StepOut']
export type Prove = Schemas['ProveAnswer']
export type ReadCard = Schemas['CardOut']
export type ReadOutLine = Schemas['ReadOutLine']
export type OpenedProbe = Schemas['OpenedOut']
export type RateProof = Schemas['RateProofOut']
export type SeenLine = Schemas['SeenLine']
export type Refresh = Schemas['RefreshOut']
export type Coverage = Schemas['CoverageOut']
export type TitlePlans = Schemas['TitlePlansOut']
export type PlannedSetting = Schemas['PlannedOut']
export type GridBox = Schemas['GridBox']
export type GridRow = Schemas['GridRow']
export type GridCell = Schemas['GridCell']
export type Choice = Schemas['ExclusionOut']
export type StyleQuestion = Schemas['StyleQuestionOut']
export type Fault = Schemas['FaultAnswer']
export type Practice = Schemas['PracticeOut']
export type LightAnswer = Schemas['LightAnswer']
export type LightScreen = Schemas['ScreenLightOut']
export type LightCell = Schemas['LightCellOut']
export type LightMoment = Schemas['LightMoment']
export type LightScale = Schemas['ScaleOut']
export type BeforeMeter = Schemas['BeforeMeter']
export type LightNote = Schemas['NotedIn']
export type Game = Schemas['GameOut']
export type FaultCause = Schemas['CauseOut']
export type FaultCheck = Schemas['AskedOut']
export type Retro = NonNullable<Schemas['RetroOut']>
export type Visits = Schemas['VisitsOut']
export type Visit = Schemas['VisitOut']
export type VisitIn = Schemas['VisitIn']
export type Recheck = Schemas['RecheckOut']
export type Look = Schemas['LookOut']
export type AtRisk = Schemas['AtRisk']
export type JobRow = Schemas['JobRow']
export type Session = Schemas['SessionOut']
export type Item = Schemas['ItemOut']
export type Verdict = Run['verdict']
export type Op = Schemas['Op']

export interface Clash {
  path: string
  yours: Op
  theirs: Op
  yours_words: string
  theirs_words: string
  by: string
  at: string
}

// A refusal by the server (RFC 9457), or the server not being reached (status 0).
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    readonly detail: string,
    readonly where = '',
    readonly more: Record<string, unknown> = {},
  ) {
    super(detail)
  }
}

// The cookie with the token is named by the installation: a host may have several.
const tokenCookie = document.querySelector<HTMLMetaElement>('meta[name="token-cookie"]')?.content ?? ''

// What a refusal says, with its place where the words do not name it.
export function said(problem: Problem): string {
  const named = !problem.where || problem.where.startsWith('ops') || problem.code === 'request_invalid'
  return named ? problem.detail : `${problem.where}: ${problem.detail}`
}

function cookie(name: string): string {
  const found = document.cookie.split('; ').find((c) => c.startsWith(`${name}=`))
  return found ? decodeURIComponent(found.slice(name.length + 1)) : ''
}

export const api = createClient<paths>({ baseUrl: '', credentials: 'same-origin' })
api.use({
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', cookie(tokenCookie))
    return request
  },
})

interface Answer<T> {
  data?: T
  error?: unknown
  response: Response
}

let signedOut: () => void = () => undefined

// What to do when the session has ended meanwhile.
export function whenSignedOut(act: () => void) {
  signedOut = act
}

// The data of an answer, or a Problem thrown.
export async function ask<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await call
  } catch {
    throw new Problem(0, 'not_reached', 'The server is not reached.')
  }
  if (answer.response.ok) return answer.data as T
  const body = (answer.error ?? {}) as Record<string, unknown>
  if (body.code === 'not_signed_in' && !answer.response.url.endsWith('/session')) signedOut()
  throw new Problem(
    answer.response.status,
    String(body.code ?? 'unknown'),
    String(body.detail ?? 'The server refused without saying why.'),
    String(body.where ?? ''),
    body,
  )
}

export function newUid(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(12))
  return Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join('')
}
