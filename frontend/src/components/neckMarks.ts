import type { Schemas } from '@/api/client'

/** The lines of a neck, whatever stands on it. */
export type NeckLines = Pick<Schemas['NeckModel'], 'strings' | 'courses' | 'starts' | 'frets' | 'capo' | 'hook' | 'left_handed'>

/** Something on a neck: a melody note where it is played, the same note elsewhere, or a finger of a chord. */
export interface NeckMark {
  string: number
  /** Distance from the nut as a share of the drawn neck. */
  at: number
  open: boolean
  text: string
  said: string
  kind: 'played' | 'elsewhere' | 'chord'
}

export function notesAsMarks(neck: Schemas['NeckModel']): NeckMark[] {
  return neck.notes.map((note) => ({
    string: note.string,
    at: note.at,
    open: note.fret === '0',
    text: note.pitch,
    said: `${note.pitch}, string ${note.string} fret ${note.fret}, ${note.usual ? `played ${note.count} times` : 'the same note elsewhere'}`,
    kind: note.usual ? 'played' : 'elsewhere',
  }))
}

export function placesAsMarks(places: Schemas['PlaceModel'][]): NeckMark[] {
  return places.map((place) => ({
    string: place.string,
    at: place.at,
    open: place.fret === '0',
    text: place.pitch,
    said: `${place.pitch}, string ${place.string} fret ${place.fret}`,
    kind: 'chord',
  }))
}

/** A shape's fingers where they stand; frets count from the capo. */
export function shapeAsMarks(shape: Schemas['ShapeModel'], neck: NeckLines): NeckMark[] {
  const capoFrets = neck.capo === null ? 0 : neck.frets.findIndex((fret) => fret.at === neck.capo) + 1
  const lineAt = (fret: number) => (fret === 0 ? 0 : (neck.frets[fret - 1]?.at ?? 1))
  return shape.strings
    .filter((one) => one.fret !== null && !one.drone)
    .map((one) => {
      const fret = (one.fret ?? 0) + capoFrets
      const open = one.fret === 0
      return {
        string: one.number,
        at: open ? lineAt(capoFrets) : (lineAt(fret - 1) + lineAt(fret)) / 2,
        open,
        text: one.finger ? String(one.finger) : one.pitch,
        said: open ? `string ${one.number} open, ${one.pitch}` : `finger ${one.finger}, string ${one.number} fret ${one.name}, ${one.pitch}`,
        kind: 'chord' as const,
      }
    })
}
