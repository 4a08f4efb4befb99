import type { DeskEntry } from '@/api/client'

/** Written lengths as fractions of a whole note: key, name, value. */
export const LENGTHS = [
  { key: '1', label: 'Whole', value: '1' },
  { key: '2', label: 'Half', value: '1/2' },
  { key: '4', label: 'Quarter', value: '1/4' },
  { key: '8', label: 'Eighth', value: '1/8' },
  { key: '6', label: '16th', value: '1/16' },
] as const

/** What the next note takes, until it is changed again (signs, commas and octaves only once). */
export interface NoteState {
  length: string
  dotted: boolean
  triplet: boolean
  alter: number | null
  commas: number
  octave: number
}

export const START: NoteState = { length: '1/4', dotted: false, triplet: false, alter: null, commas: 0, octave: 0 }

const DOTTED: Record<string, string> = { '1': '3/2', '1/2': '3/4', '1/4': '3/8', '1/8': '3/16', '1/16': '3/32' }

/** The length to send: as chosen, or half as long again. */
export const lengthOf = (state: NoteState) => (state.dotted ? DOTTED[state.length]! : state.length)

export const noteEntry = (state: NoteState, more: Partial<Extract<DeskEntry, { kind: 'note' }>>): DeskEntry => ({
  kind: 'note',
  length: lengthOf(state),
  step: '',
  octave: state.octave,
  triplet: state.triplet,
  alter: state.alter,
  commas: state.commas,
  instrument: '',
  tuning: '',
  capo: 0,
  string: 0,
  fret: 0,
  ...more,
})

/** Keys of the note pad and what they do, in the words the screen shows. */
export const NOTE_KEYS: readonly (readonly [string, string])[] = [
  ['A … G', 'note'],
  ['Z', 'rest'],
  ['1 2 4 8 6', 'length'],
  ['.', 'dotted'],
  ['T', 'triplet'],
  ['+ _ =', '♯ ♭ ♮ next'],
  ["' ,", 'last note up, down'],
  ['-', 'tie'],
  ['|', 'bar line'],
  ['⌫', 'undo'],
]
