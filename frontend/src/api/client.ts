import type { components } from './schema'

export type Schemas = components['schemas']
export type ShelfRow = Schemas['ShelfRowModel']
export type Shelf = Schemas['ShelfModel']
export type TuneDetail = Schemas['TuneDetail']
export type BroughtIn = Schemas['BroughtIn']
export type BlankTune = Schemas['BlankTune']
export type Saved = Schemas['Saved']
export type PreviewLine = Schemas['PreviewLines']['lines'][number]
export type PreviewTune = Schemas['PreviewTune']
export type PreviewChoices = Schemas['PreviewChoices']
export type DeskReading = Schemas['DeskReading']
export type DeskChange = Schemas['DeskChange']['change']
export type DeskEntry = Schemas['DeskEntry']['entry']
export type Changed = Schemas['Changed']
export type Entered = Schemas['EnteredModel']
export type BarRow = Schemas['BarRowModel']
export type Trouble = Schemas['Trouble']
export type Proposal = Schemas['ProposalModel']
export type Sound = Schemas['SoundModel']
export type Board = Schemas['BoardModel']
export type Instrument = Schemas['InstrumentModel']
export type SetupWish = Schemas['SetupWish']
export type SetupAnswer = Schemas['SetupAnswer']
export type PlanWish = Schemas['PlanWish']
export type Plan = Schemas['PlanModel']
export type WhyNot = Schemas['WhyNot']
export type Neck = Schemas['NeckModel']
export type Shape = Schemas['ShapeModel']
export type Shapes = Schemas['ShapesModel']
export type ShapesWish = Schemas['ShapesWish']
export type PlacesWish = Schemas['PlacesWish']
export type BareNeck = Schemas['BareNeck']
export type KeyTable = Schemas['KeyTableModel']
export type KeyWay = Schemas['KeyWayModel']
export type OwnInstrument = Schemas['OwnInstrumentModel']
export type OwnTuning = Schemas['OwnTuningModel']
export type Tuner = Schemas['TunerModel']
export type TunerString = Schemas['TunerString']
export type HeardPitch = Schemas['HeardModel']
export type ListenWish = Schemas['ListenWish']
export type SetupSummary = Schemas['SetupSummary']
export type Ladder = Schemas['LadderModel']
export type Phrase = Schemas['PhraseModel']
export type BarFrame = Schemas['BarFrame']
export type Column = Schemas['ColumnModel']
export type Cell = Schemas['CellModel']
export type PathState = Schemas['PathModel']
export type Change = Schemas['ChangeWish']['change']
export type NoteEdit = Schemas['NoteEdit']
export type ChangeAnswer = Schemas['ChangeAnswer']
export type CellDetail = Schemas['CellDetail']
export type Note = Schemas['NoteModel']
export type Touch = Schemas['TouchModel']
export type Unison = Schemas['UnisonModel']
export type ArrangementRow = Schemas['ArrangementRow']
export type Beside = Schemas['BesideModel']
export type Strip = Schemas['StripModel']
export type Timeline = Schemas['TimelineModel']
export type Sheet = Schemas['SheetModel']
export type BroughtBack = Schemas['BroughtBack']
export type Packet = Schemas['PacketModel']
export type PacketWish = Schemas['PacketWish']
export type SheetWish = Schemas['SheetWish']
export type Alternative = Schemas['AlternativeModel']
export type Choice = Schemas['ChoiceModel']
export type Mark = Cell['marks'][number]

/** A problem document of the server: what, where and what to do. */
export interface Problem {
  title: string
  status: number
  detail: string
  field?: string
  remedy?: string
  bar?: number
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
  const response = await fetch(`/api${path}`, init).catch((error: unknown) => {
    if (error instanceof DOMException && error.name === 'AbortError') throw error
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
  const text = JSON.stringify(body)
  // What a teacher has just done is kept even when she leaves the page at once; browsers carry up to 64 KiB then.
  const response = await send(path, { method, headers, body: text, keepalive: (text?.length ?? 0) < 60_000 })
  return (response.status === 204 ? undefined : await response.json()) as T
}

export interface ShelfQuery {
  find: string
  tag: string
  archived: boolean
  sort: string
  descending: boolean
  offset: number
  limit: number
}

/** From which bar, how fast and how to play. */
export interface Playing {
  start: number
  tempo: number
  swing: number
  count_in: number
}

function query(values: object): string {
  return new URLSearchParams(Object.entries(values).map(([name, value]) => [name, String(value)])).toString()
}

/** Lines of JSON as they arrive, each handed on at once. */
async function eachLine(response: Response, take: (line: PreviewLine) => void) {
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader()
  let rest = ''
  for (;;) {
    const { value, done } = await reader.read()
    rest += value ?? ''
    const lines = rest.split('\n')
    rest = lines.pop() ?? ''
    for (const line of lines) if (line) take(JSON.parse(line) as PreviewLine)
    if (done) return
  }
}

/** The server's API, one function an operation. */
export const api = {
  shelf: (wanted: ShelfQuery) => get<Shelf>(`/tunes?${query(wanted)}`),
  tune: (id: number) => get<TuneDetail>(`/tunes/${id}`),
  bringIn: (abc: string) => write<BroughtIn>('POST', '/tunes', { abc }),
  preview: async (body: FormData, take: (line: PreviewLine) => void, signal: AbortSignal) =>
    eachLine(await send('/tunes/preview', { method: 'POST', body, signal }), take),
  writeNew: (blank: BlankTune) => write<TuneDetail>('POST', '/tunes/blank', blank),
  saveText: (id: number, text: string, revision: number) => write<Saved>('PUT', `/tunes/${id}/text`, { text, revision }),
  setTags: (id: number, tags: string[]) => write<string[]>('PUT', `/tunes/${id}/tags`, { tags }),
  setArchived: (id: number, archived: boolean) => write<undefined>('PUT', `/tunes/${id}/archived`, { archived }),
  duplicate: (id: number) => write<ShelfRow>('POST', `/tunes/${id}/duplicate`, undefined),
  takeOff: (id: number) => send(`/tunes/${id}`, { method: 'DELETE' }),
  restore: (id: number) => write<ShelfRow>('POST', `/tunes/${id}/restore`, undefined),
  tuneExport: (id: number, name: string) => `/api/tunes/${id}/export/${name}`,
  read: (abc: string) => write<DeskReading>('POST', '/desk/read', { abc }),
  change: (abc: string, change: DeskChange) => write<Changed>('POST', '/desk/change', { abc, change }),
  enter: (abc: string, at: number, entry: DeskEntry) => write<Entered>('POST', '/desk/enter', { abc, at, entry }),
  proposals: (abc: string) => write<Proposal[]>('POST', '/desk/proposals', { abc }),
  sounds: (abc: string) => write<Sound[]>('POST', '/desk/sounds', { abc }),
  board: (instrument: string, tuning: string, capo: number) =>
    get<Board>(`/desk/board/${instrument}?${query({ tuning, capo })}`),
  instruments: () => get<Instrument[]>('/instruments'),
  addInstrument: (made: OwnInstrument) => write<Instrument>('POST', '/instruments', made),
  changeInstrument: (number: number, made: OwnInstrument) => write<Instrument>('PUT', `/instruments/own/${number}`, made),
  forgetInstrument: (number: number) => send(`/instruments/own/${number}`, { method: 'DELETE' }),
  addTuning: (instrument: string, made: OwnTuning) => write<Instrument>('POST', `/instruments/${instrument}/tunings`, made),
  forgetTuning: (number: number) => send(`/instruments/tunings/${number}`, { method: 'DELETE' }),
  shapes: (instrument: string, wish: ShapesWish) => write<Shapes>('POST', `/instruments/${instrument}/shapes`, wish),
  places: (instrument: string, wish: PlacesWish) => write<BareNeck>('POST', `/instruments/${instrument}/places`, wish),
  keyTable: (instrument: string, mode: string, everyTuning: boolean) =>
    get<KeyTable>(`/instruments/${instrument}/key-table?${query({ mode, every_tuning: everyTuning })}`),
  tuner: (instrument: string, tuning: string, current: string) => get<Tuner>(`/tuner/${instrument}?${query({ tuning, current })}`),
  toneAddress: (instrument: string, tuning: string, string: number, offCents: number) =>
    `/api/tuner/${instrument}/tone?${query({ tuning, string, off_cents: offCents })}`,
  hear: (instrument: string, wish: ListenWish) => write<HeardPitch>('POST', `/tuner/${instrument}/hear`, wish),
  recording: async (instrument: string, tuning: string, file: File) => {
    const body = new FormData()
    body.set('file', file)
    body.set('tuning', tuning)
    return (await (await send(`/tuner/${instrument}/recording`, { method: 'POST', body })).json()) as HeardPitch
  },
  trySetup: (tuneId: number, wish: SetupWish) => write<SetupAnswer>('POST', `/tunes/${tuneId}/setups/try`, wish),
  plans: (tuneId: number, wish: PlanWish) => write<Plan[]>('POST', `/tunes/${tuneId}/setups/plan`, wish),
  whyNot: (tuneId: number, question: WhyNot) => write<{ said: string }>('POST', `/tunes/${tuneId}/setups/why-not`, question),
  neck: (tuneId: number, wish: SetupWish) => write<Neck>('POST', `/tunes/${tuneId}/setups/neck`, wish),
  keepSetup: (tuneId: number, wish: SetupWish) => write<SetupSummary>('POST', `/tunes/${tuneId}/setups`, wish),
  forgetSetup: (id: number) => send(`/setups/${id}`, { method: 'DELETE' }),
  ladder: (setupId: number) => get<Ladder>(`/setups/${setupId}/ladder`),
  phrase: (setupId: number, index: number) => get<Phrase>(`/setups/${setupId}/phrases/${index}`),
  beside: (setupId: number, index: number, other: number) => get<Beside>(`/setups/${setupId}/phrases/${index}/beside/${other}`),
  cell: (setupId: number, place: number, rung: number) => get<CellDetail>(`/setups/${setupId}/cells/${place}/${rung}`),
  arrange: (setupId: number, change: Change, revision: number) =>
    write<ChangeAnswer>('POST', `/setups/${setupId}/changes`, { change, revision }),
  undo: (setupId: number, revision: number) => write<ChangeAnswer>('POST', `/setups/${setupId}/undo`, { revision }),
  redo: (setupId: number, revision: number) => write<ChangeAnswer>('POST', `/setups/${setupId}/redo`, { revision }),
  arrangements: (tuneId: number) => get<ArrangementRow[]>(`/tunes/${tuneId}/arrangements`),
  copySetup: (setupId: number, name: string) => write<SetupSummary>('POST', `/setups/${setupId}/copy`, { name }),
  nameSetup: (setupId: number, name: string) => write<SetupSummary>('PUT', `/setups/${setupId}/name`, { name }),
  unisons: (setupId: number, place: number, onset: string) =>
    get<Unison[]>(`/setups/${setupId}/bars/${place}/unisons?${query({ onset })}`),
  timeline: (setupId: number, playing: Playing) => get<Timeline>(`/setups/${setupId}/timeline?${query(playing)}`),
  soundAddress: (setupId: number, playing: Playing, revision: number) =>
    `/api/setups/${setupId}/sound?${query({ ...playing, revision })}`,
  cellSoundAddress: (setupId: number, place: number, rung: number, tempo: number, revision: number) =>
    `/api/setups/${setupId}/cells/${place}/${rung}/sound?${query({ tempo, revision })}`,
  alternatives: (setupId: number, place: number, rung: number) =>
    get<Alternative[]>(`/setups/${setupId}/bars/${place}/alternatives?rung=${rung}`),
  frames: (setupId: number) => get<Strip[]>(`/setups/${setupId}/frames`),
  choices: (setupId: number) => get<Choice[]>(`/setups/${setupId}/options`),
  sheet: (setupId: number) => get<Sheet>(`/setups/${setupId}/sheet`),
  bringBack: (file: { text: string } | { packed: string }) => write<BroughtBack>('POST', '/arrangements', file),
  startPacket: (wish: PacketWish) => write<Packet>('POST', '/packets', wish),
  packet: (number: number) => get<Packet>(`/packets/${number}`),
  cancelPacket: (number: number) => send(`/packets/${number}`, { method: 'DELETE' }),
  packetAddress: (number: number) => `/api/packets/${number}/file`,
  exportAddress: (setupId: number, name: string, how: object = {}) => `/api/setups/${setupId}/export/${name}?${query(how)}`,
  handoutAddress: (setupId: number, rungs: number[], phrases: number[]) => {
    const wanted = [...rungs.map((rung) => `rungs=${rung}`), ...phrases.map((phrase) => `phrases=${phrase}`)]
    return `/api/setups/${setupId}/handout?${wanted.join('&')}`
  },
}
