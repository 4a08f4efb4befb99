import { got, json, kept, read, send, server, unreachable } from './server'
import type * as t from './types'

export { isUnreachable, outlivesPage, Refused, type Problem } from './server'
export type * from './types'

export interface ShelfQuery {
  find: string
  tag?: string
  key?: string
  metre?: string
  instrument?: string
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
async function eachLine(response: Response, take: (line: t.PreviewLine) => void) {
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader()
  let rest = ''
  for (;;) {
    const { value, done } = await reader.read().catch(unreachable)
    rest += value ?? ''
    const lines = rest.split('\n')
    rest = lines.pop() ?? ''
    for (const line of lines) if (line) take(JSON.parse(line) as t.PreviewLine)
    if (done) return
  }
}

function fileForm(file: File): FormData {
  const body = new FormData()
  body.set('file', file)
  return body
}

const tuneAt = (tune_id: number) => ({ params: { path: { tune_id } } })
const setupAt = (setup_id: number) => ({ params: { path: { setup_id } } })
const cellAt = (setup_id: number, place: number, rung: number) => ({ params: { path: { setup_id, place, rung } } })
const with_ = <B>(body: B) => ({ body, ...kept(body) })

/**
 * The server's API by what it is for; paths, bodies and answers are checked against the server's own description.
 * (The client's types forget that a pair is a pair; where an answer has pairs, it is named.)
 */
export const api = {
  last: () => read(() => server.GET('/api/teacher/last')),
  settings: () => read(() => server.GET('/api/teacher/settings')),
  settle: (wanted: t.Settings) => got(server.PUT('/api/teacher/settings', with_(wanted))),
  opened: (id: number) => got(server.POST('/api/tunes/{tune_id}/opened', tuneAt(id))),
  shelf: (wanted: ShelfQuery) => read(() => server.GET('/api/tunes', { params: { query: wanted as never } })),
  tune: (id: number) => read(() => server.GET('/api/tunes/{tune_id}', tuneAt(id))),
  bringIn: (abc: string) => got(server.POST('/api/tunes', with_({ abc }))),
  preview: async (body: FormData, take: (line: t.PreviewLine) => void, signal: AbortSignal) =>
    eachLine(await send('/tunes/preview', { method: 'POST', body, signal }), take),
  writeNew: (blank: t.BlankTune) => got(server.POST('/api/tunes/blank', with_(blank))),
  saveText: (id: number, text: string, revision: number) =>
    got(server.PUT('/api/tunes/{tune_id}/text', { ...tuneAt(id), ...with_({ text, revision }) })),
  setTags: (id: number, tags: string[]) => got(server.PUT('/api/tunes/{tune_id}/tags', { ...tuneAt(id), ...with_({ tags }) })),
  tagSeveral: (tunes: number[], tag: string, given: boolean) => got(server.POST('/api/tunes/tagged', with_({ tunes, tag, given }))),
  setArchived: (id: number, archived: boolean) =>
    got(server.PUT('/api/tunes/{tune_id}/archived', { ...tuneAt(id), ...with_({ archived }) })),
  duplicate: (id: number) => got(server.POST('/api/tunes/{tune_id}/duplicate', tuneAt(id))),
  takeOff: (id: number) => got(server.DELETE('/api/tunes/{tune_id}', tuneAt(id))),
  restore: (id: number) => got(server.POST('/api/tunes/{tune_id}/restore', tuneAt(id))),
  tuneExport: (id: number, name: string) => `/api/tunes/${id}/export/${name}`,
  read: (abc: string) => read(() => server.POST('/api/desk/read', { body: { abc } })) as Promise<t.DeskReading>,
  change: (abc: string, change: t.DeskChange) => got(server.POST('/api/desk/change', { body: { abc, change } })),
  enter: (abc: string, at: number, entry: t.DeskEntry) => got(server.POST('/api/desk/enter', { body: { abc, at, entry } })),
  proposals: (abc: string) => read(() => server.POST('/api/desk/proposals', { body: { abc } })),
  sounds: (abc: string) => read(() => server.POST('/api/desk/sounds', { body: { abc } })),
  board: (instrument: string, tuning: string, capo: number) =>
    read(() => server.GET('/api/desk/board/{instrument}', { params: { path: { instrument }, query: { tuning, capo } } })),
  instruments: () => read(() => server.GET('/api/instruments')),
  addInstrument: (made: t.OwnInstrument) => got(server.POST('/api/instruments', with_(made))),
  changeInstrument: (number: number, made: t.OwnInstrument) =>
    got(server.PUT('/api/instruments/own/{number}', { params: { path: { number } }, ...with_(made) })),
  forgetInstrument: (number: number) => got(server.DELETE('/api/instruments/own/{number}', { params: { path: { number } } })),
  addTuning: (instrument: string, made: t.OwnTuning) =>
    got(server.POST('/api/instruments/{instrument}/tunings', { params: { path: { instrument } }, ...with_(made) })),
  forgetTuning: (number: number) => got(server.DELETE('/api/instruments/tunings/{number}', { params: { path: { number } } })),
  shapes: (instrument: string, wish: t.ShapesWish) =>
    read(() => server.POST('/api/instruments/{instrument}/shapes', { params: { path: { instrument } }, body: wish })),
  places: (instrument: string, wish: t.PlacesWish) =>
    read(() => server.POST('/api/instruments/{instrument}/places', { params: { path: { instrument } }, body: wish })),
  keyTable: (instrument: string, mode: string, every_tuning: boolean) =>
    read(() => server.GET('/api/instruments/{instrument}/key-table', { params: { path: { instrument }, query: { mode, every_tuning } as never } })),
  tuner: (instrument: string, tuning: string, current: string) =>
    read(() => server.GET('/api/tuner/{instrument}', { params: { path: { instrument }, query: { tuning, current } } })),
  toneAddress: (instrument: string, tuning: string, string: number, offCents: number) =>
    `/api/tuner/${instrument}/tone?${query({ tuning, string, off_cents: offCents })}`,
  hear: (instrument: string, wish: t.ListenWish) =>
    got(server.POST('/api/tuner/{instrument}/hear', { params: { path: { instrument } }, body: wish })),
  recording: async (instrument: string, tuning: string, file: File) => {
    const body = fileForm(file)
    body.set('tuning', tuning)
    return json<t.HeardPitch>(await send(`/tuner/${instrument}/recording`, { method: 'POST', body }))
  },
  trySetup: (tuneId: number, wish: t.SetupWish) => read(() => server.POST('/api/tunes/{tune_id}/setups/try', { ...tuneAt(tuneId), body: wish })),
  plans: (tuneId: number, wish: t.PlanWish) => read(() => server.POST('/api/tunes/{tune_id}/setups/plan', { ...tuneAt(tuneId), body: wish })),
  whyNot: (tuneId: number, question: t.WhyNot) =>
    read(() => server.POST('/api/tunes/{tune_id}/setups/why-not', { ...tuneAt(tuneId), body: question })),
  neck: (tuneId: number, wish: t.SetupWish) => read(() => server.POST('/api/tunes/{tune_id}/setups/neck', { ...tuneAt(tuneId), body: wish })),
  /** Nobody waits for it: what goes wrong with it is seen where the setup is kept. */
  ahead: (tuneId: number, wish: t.SetupWish) =>
    void server.POST('/api/tunes/{tune_id}/setups/ahead', { ...tuneAt(tuneId), body: wish }).catch(() => undefined),
  keepSetup: (tuneId: number, wish: t.SetupWish) => got(server.POST('/api/tunes/{tune_id}/setups', { ...tuneAt(tuneId), ...with_(wish) })),
  forgetSetup: (id: number) => got(server.DELETE('/api/setups/{setup_id}', setupAt(id))),
  ladder: (setupId: number) => read(() => server.GET('/api/setups/{setup_id}/ladder', setupAt(setupId))) as Promise<t.Ladder>,
  phrase: (setup_id: number, index: number) =>
    read(() => server.GET('/api/setups/{setup_id}/phrases/{index}', { params: { path: { setup_id, index } } })) as Promise<t.Phrase>,
  beside: (setup_id: number, index: number, other: number) =>
    read(() => server.GET('/api/setups/{setup_id}/phrases/{index}/beside/{other}', { params: { path: { setup_id, index, other } } })),
  cell: (setupId: number, place: number, rung: number) =>
    read(() => server.GET('/api/setups/{setup_id}/cells/{place}/{rung}', cellAt(setupId, place, rung))),
  cellChoices: (setupId: number, place: number, rung: number) =>
    read(() => server.GET('/api/setups/{setup_id}/cells/{place}/{rung}/choices', cellAt(setupId, place, rung))),
  arrange: (setupId: number, change: t.Change, revision: number, id: string) =>
    got(server.POST('/api/setups/{setup_id}/changes', { ...setupAt(setupId), ...with_({ change, revision, id }) })) as Promise<t.ChangeAnswer>,
  undo: (setupId: number, revision: number, id: string) =>
    got(server.POST('/api/setups/{setup_id}/undo', { ...setupAt(setupId), ...with_({ revision, id }) })) as Promise<t.ChangeAnswer>,
  redo: (setupId: number, revision: number, id: string) =>
    got(server.POST('/api/setups/{setup_id}/redo', { ...setupAt(setupId), ...with_({ revision, id }) })) as Promise<t.ChangeAnswer>,
  /** Everything that waits, in one request that outlives its page. */
  arrangeAll: (setupId: number, changes: t.QueuedChange[], revision: number) =>
    void server.POST('/api/setups/{setup_id}/changes/queue', { ...setupAt(setupId), ...with_({ changes, revision }) }).catch(() => undefined),
  arrangements: (tuneId: number) => read(() => server.GET('/api/tunes/{tune_id}/arrangements', tuneAt(tuneId))),
  copySetup: (setupId: number, name: string) =>
    got(server.POST('/api/setups/{setup_id}/copy', { ...setupAt(setupId), ...with_({ name }) })),
  nameSetup: (setupId: number, name: string) =>
    got(server.PUT('/api/setups/{setup_id}/name', { ...setupAt(setupId), ...with_({ name }) })),
  unisons: (setup_id: number, place: number, onset: string) =>
    read(() => server.GET('/api/setups/{setup_id}/bars/{place}/unisons', { params: { path: { setup_id, place }, query: { onset } } })),
  timeline: (setup_id: number, playing: Playing) =>
    read(() => server.GET('/api/setups/{setup_id}/timeline', { params: { path: { setup_id }, query: playing } })),
  soundAddress: (setupId: number, playing: Playing, revision: number) =>
    `/api/setups/${setupId}/sound?${query({ ...playing, revision })}`,
  cellSoundAddress: (setupId: number, place: number, rung: number, tempo: number, revision: number) =>
    `/api/setups/${setupId}/cells/${place}/${rung}/sound?${query({ tempo, revision })}`,
  alternatives: (setup_id: number, place: number, rung: number) =>
    read(() => server.GET('/api/setups/{setup_id}/bars/{place}/alternatives', { params: { path: { setup_id, place }, query: { rung } } })),
  practice: (setupId: number) => read(() => server.GET('/api/setups/{setup_id}/practice', setupAt(setupId))),
  setPractice: (setupId: number, wish: t.PracticeWish) =>
    got(server.PUT('/api/setups/{setup_id}/practice', { ...setupAt(setupId), ...with_(wish) })),
  said: (setup_id: number, step: string, said: t.Said, id: string) =>
    got(server.POST('/api/setups/{setup_id}/practice/steps/{step}/said', { params: { path: { setup_id, step } }, ...with_({ said, id }) })),
  room: (setup_id: number, size: t.Room['size']) =>
    read(() => server.GET('/api/setups/{setup_id}/practice/room', { params: { path: { setup_id }, query: { size } as never } })) as Promise<t.Room>,
  takeHomeAddress: (setupId: number, note: string) => `/api/setups/${setupId}/practice/take-home?${query({ note })}`,
  signs: (setupId: number) => read(() => server.GET('/api/setups/{setup_id}/signs', setupAt(setupId))),
  frames: (setupId: number) => read(() => server.GET('/api/setups/{setup_id}/frames', setupAt(setupId))),
  choices: (setupId: number) => read(() => server.GET('/api/setups/{setup_id}/options', setupAt(setupId))),
  sheet: (setupId: number) => read(() => server.GET('/api/setups/{setup_id}/sheet', setupAt(setupId))),
  bringBack: (file: { text?: string; packed?: string }) =>
    got(server.POST('/api/arrangements', { body: { text: '', packed: '', ...file } })),
  studio: () => read(() => server.GET('/api/studio')),
  studioCopy: '/api/studio/copy',
  studioReadable: '/api/studio/readable',
  lookIntoCopy: async (file: File) => json<t.Holdings>(await send('/studio/look', { method: 'POST', body: fileForm(file) })),
  bringBackCopy: async (file: File) =>
    json<t.BroughtBackStudio>(await send('/studio/bring-back', { method: 'POST', body: fileForm(file) })),
  lookIntoKept: (name: string) => read(() => server.GET('/api/studio/copies/{name}', { params: { path: { name } } })),
  bringBackKept: (name: string) => got(server.POST('/api/studio/copies/{name}/bring-back', { params: { path: { name } } })),
  startPacket: (wish: t.PacketWish) => got(server.POST('/api/packets', with_(wish))),
  packet: (number: number) => read(() => server.GET('/api/packets/{number}', { params: { path: { number } } })),
  cancelPacket: (number: number) => got(server.DELETE('/api/packets/{number}', { params: { path: { number } } })),
  packetAddress: (number: number) => `/api/packets/${number}/file`,
  exportAddress: (setupId: number, name: string, how: object = {}) => `/api/setups/${setupId}/export/${name}?${query(how)}`,
  printed: (setupId: number) => got(server.POST('/api/setups/{setup_id}/printed', { ...setupAt(setupId), keepalive: true })),
  handoutAddress: (setupId: number, rungs: number[], phrases: number[]) => {
    const wanted = [...rungs.map((rung) => `rungs=${rung}`), ...phrases.map((phrase) => `phrases=${phrase}`)]
    return `/api/setups/${setupId}/handout?${wanted.join('&')}`
  },
}
