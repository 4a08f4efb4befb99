import { LADDER_KEYS } from '@/composables/useLadderKeys'
import { SHELF_KEYS } from '@/composables/useShelfKeys'

/** What the help says of a screen: the first step, its keys, the words on it; `signs` where tab is shown. */
export interface HelpPage {
  title: string
  first: string
  keys: readonly (readonly [string, string])[]
  words: readonly (readonly [string, string])[]
  signs?: boolean
}

const EVERYWHERE = [
  ['Backspace', 'back to where you came from'],
  ['?', 'this help, or away with it'],
] as const

const TAB_WORDS = [
  ['rung', 'one way to play the whole tune; 1 is the bare melody, 7 a solo'],
  ['path', 'the rung taken for each bar: what is printed, heard and practised'],
  ['core', 'what one would hum of the tune; its layers are the bones, the beats, pairs, every note'],
  ['grade', 'how hard a bar is, 1 to 8, by what both hands have to do'],
  ['join', 'the place between two bars, with a grade of its own'],
  ['drone', 'a string that sounds on whatever the melody does'],
  ['drop thumb', 'clawhammer: the thumb strikes a string inside the neck'],
  ['roll', 'three-finger: thumb and fingers by turns in a fixed order'],
  ['brush, strum', 'several strings in one stroke of the hand'],
] as const

const PAGES: Record<string, HelpPage> = {
  shelf: {
    title: 'Your tunes',
    first: 'Paste a tune or drop a file anywhere. A single tune goes straight to its setup; what was worked on last stands first.',
    keys: SHELF_KEYS,
    words: [
      ['form', 'the order of the parts as they are played: AABB is each of two parts twice'],
      ['bars', 'as played; behind them how many are different, which is what there is to learn'],
      ['set for', 'instruments it has an arrangement for'],
      ['tag', 'your own word for a kind of tune; a group, a level, a concert'],
      ['archive', 'away from the shelf, with everything kept'],
    ],
  },
  'bring-in': {
    title: 'Bringing in tunes',
    first: 'Choose a file or paste ABC. You see what is in it before anything is kept; tick what you want.',
    keys: [],
    words: [
      ['ABC', 'a tune as plain text: letters are notes, K: is the key, M: the metre'],
      ['MusicXML', 'a score from a notation program'],
      ['guessed', 'a MIDI file does not say it; look, and choose another where it is wrong'],
      ['left out', 'what a tune had that Nailhead does not keep, and why'],
    ],
  },
  tune: {
    title: 'The desk',
    first: 'The text is the tune; the staff follows while you type. What does not add up is marked, and nothing you typed is lost.',
    keys: [],
    words: [
      ['pickup', 'the notes before the first whole bar'],
      ['ending', 'bars played only the first, or only the second time'],
      ['equal bars', 'bars with the same notes and chords: they are arranged together'],
      ['core', 'what one would hum; a note can be taken in or left out by hand'],
    ],
  },
  setup: {
    title: 'Setting it up',
    first: 'Choose instrument and way of playing; the ways are ranked, cheapest first. Take the first with Enter, or pick a row to see it on the neck.',
    keys: [
      ['↑ ↓', 'from row to row'],
      ['Enter', 'set it up so'],
    ],
    words: [
      ['plays, sounds', 'the key whose shapes the hands use, and the key that is heard: a capo lies between'],
      ['cost', 'what a way asks of the hands and of the strings, added up; less is easier'],
      ['open strings', 'notes that need no finger, and ring'],
      ['fifth string', 'the banjo’s short string; a hook or its peg raises it'],
      ['capo', 'a bar across all strings: everything sounds that many frets higher'],
    ],
  },
  ladder: { title: 'The ladder', first: 'Click a cell to see why it is so hard, double click to take it. A number puts the whole path on that rung; p goes on to the sheet.', keys: LADDER_KEYS, words: TAB_WORDS, signs: true },
  sheet: {
    title: 'The sheet',
    first: 'What you see is what the printer gets. Choose what stands on it; every choice is kept with the arrangement.',
    keys: [
      ['p', 'print'],
      ['f', 'the pages alone, to play from; arrows, Space, PgDn or a tap turn them'],
    ],
    words: TAB_WORDS,
    signs: true,
  },
  practice: { title: 'Practising', first: 'Follow the plan: play each step until it is clean. All keys can be changed, for a foot switch too.', keys: [], words: TAB_WORDS, signs: true },
  copies: {
    title: 'Copies',
    first: 'Keep a copy of everything as one file; a copy of every day of use is kept by itself.',
    keys: [],
    words: [['bring back', 'what is in a copy takes the place of what is there; what was there is kept aside']],
  },
  settings: { title: 'Settings', first: 'What you settle here holds for all that is new; what you decided on a tune stays. Dim, in the line above, belongs to this device.', keys: [], words: [['school', 'where good players differ, and each way is right']] },
  packet: { title: 'A packet', first: 'Tick tunes in the order in which they are to be bound; they become one PDF with a page of contents.', keys: [], words: [] },
  instruments: {
    title: 'Instruments',
    first: 'Chord shapes, keys with and without capo, tunings with the pull on each string, and a tuner. Your own instruments stand beside them.',
    keys: [],
    words: [
      ['course', 'strings so close that a finger stops them as one'],
      ['scale', 'from nut to bridge, in millimetres'],
      ['tension', 'the pull on a string; tuning up adds to it, and a string can break'],
    ],
  },
}

export const helpOf = (route: string): HelpPage => {
  const page = PAGES[route] ?? PAGES.shelf!
  return { ...page, keys: [...page.keys.filter(([key]) => key !== '?'), ...EVERYWHERE] }
}
