import type { components } from './schema'

export type Schemas = components['schemas']
export type TuneSummary = Schemas['TuneSummary']
export type TuneDetail = Schemas['TuneDetail']
export type BroughtIn = Schemas['BroughtIn']
export type Instrument = Schemas['InstrumentModel']
export type SetupWish = Schemas['SetupWish']
export type SetupAnswer = Schemas['SetupAnswer']
export type SetupSummary = Schemas['SetupSummary']
export type Ladder = Schemas['LadderModel']
export type Column = Schemas['ColumnModel']
export type Cell = Schemas['CellModel']
export type PathState = Schemas['PathModel']
export type PathChange = Schemas['PathChange']
export type Sheet = Schemas['SheetModel']
export type Mark = Cell['marks'][number]

/** A problem document of the server: what, where and what to do. */
export interface Problem {
  title: string
  status: number
  detail: string
  field?: string
  remedy?: string
  line?: number
  column?: number
}

/** What every refused request throws. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail)
  }
}

const UNREACHABLE: Problem = {
  title: 'No answer',
  status: 0,
  detail: 'Nailhead does not answer.',
  remedy: 'Check that it is still running in its terminal, then try again.',
}

async function send(path: string, init: RequestInit = {}): Promise<Response> {
  const response = await fetch(`/api${path}`, init).catch(() => {
    throw new Refused(UNREACHABLE)
  })
  if (response.ok) return response
  const problem = await response.json().catch(() => ({ ...UNREACHABLE, status: response.status }))
  throw new Refused(problem as Problem)
}

async function get<T>(path: string): Promise<T> {
  return (await (await send(path)).json()) as T
}

async function write<T>(method: string, path: string, body: unknown): Promise<T> {
  const headers = { 'Content-Type': 'application/json' }
  return (await (await send(path, { method, headers, body: JSON.stringify(body) })).json()) as T
}

/** The server's API, one function an operation. */
export const api = {
  shelf: () => get<TuneSummary[]>('/tunes'),
  tune: (id: number) => get<TuneDetail>(`/tunes/${id}`),
  bringIn: (abc: string) => write<BroughtIn>('POST', '/tunes', { abc }),
  bringInFile: async (file: File): Promise<BroughtIn> => {
    const body = new FormData()
    body.append('file', file)
    return (await (await send('/tunes/file', { method: 'POST', body })).json()) as BroughtIn
  },
  takeOff: (id: number) => send(`/tunes/${id}`, { method: 'DELETE' }),
  instruments: () => get<Instrument[]>('/instruments'),
  trySetup: (tuneId: number, wish: SetupWish) => write<SetupAnswer>('POST', `/tunes/${tuneId}/setups/try`, wish),
  keepSetup: (tuneId: number, wish: SetupWish) => write<SetupSummary>('POST', `/tunes/${tuneId}/setups`, wish),
  forgetSetup: (id: number) => send(`/setups/${id}`, { method: 'DELETE' }),
  ladder: (setupId: number) => get<Ladder>(`/setups/${setupId}/ladder`),
  changePath: (setupId: number, change: PathChange) => write<PathState>('PATCH', `/setups/${setupId}/path`, change),
  sheet: (setupId: number, paper: string, fingers: boolean) =>
    get<Sheet>(`/setups/${setupId}/sheet?paper=${encodeURIComponent(paper)}&fingers=${fingers}`),
  exportAddress: (setupId: number, name: string) => `/api/setups/${setupId}/export/${name}`,
}
