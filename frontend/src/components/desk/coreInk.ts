import type { TuneObject } from 'abcjs'

import type { CoreNote } from '@/api/client'

/** What a layer is called beside a note. */
export const LAYER_WORDS: Record<CoreNote['layer'], string> = {
  bones: 'A bone',
  beat: 'On the beats',
  pairs: 'In the pairs',
  full: 'Not in the core',
}

interface DrawnNote {
  abcelem?: { startChar?: number }
  elemset?: (Element | undefined)[]
}
interface Engraver {
  staffgroups?: { voices: { children: DrawnNote[] }[] }[]
}

/** Gives every drawn note the weight of its layer; with `notes` empty all are as dark as before. */
export function inkNotes(drawn: TuneObject | undefined, notes: CoreNote[]) {
  const layers = new Map(notes.map((note) => [note.start, note]))
  const engraver = drawn?.engraver as Engraver | undefined
  for (const group of engraver?.staffgroups ?? []) {
    for (const voice of group.voices) {
      for (const child of voice.children) {
        const note = layers.get(child.abcelem?.startChar ?? -1)
        for (const element of child.elemset ?? []) {
          if (!element) continue
          element.classList.remove('ink-bones', 'ink-beat', 'ink-pairs', 'ink-full', 'ink-decided')
          if (note) element.classList.add(`ink-${note.layer}`)
          if (note?.decided) element.classList.add('ink-decided')
        }
      }
    }
  }
}
