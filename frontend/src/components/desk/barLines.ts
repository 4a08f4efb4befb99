import type { BarRow, DeskReading } from '@/api/client'

export interface BarLine {
  letter: string
  start: number
  /** The pickup of the line, in a narrow column of its own so that full bars stand under one another. */
  upbeat: BarRow | null
  bars: BarRow[]
}

const isUpbeat = (bar: BarRow | undefined) => !!bar && !bar.missing && bar.length !== bar.needed && !bar.closes_repeat

/** The bars of a tune by phrase, as they are laid out in rows. */
export function barLines(reading: DeskReading): BarLine[] {
  return reading.phrases.map((phrase) => {
    const bars = reading.bars.slice(phrase.start, phrase.stop)
    const upbeat = bars.length > 1 && isUpbeat(bars[0]) ? bars[0]! : null
    return { letter: phrase.letter, start: phrase.start, upbeat, bars: upbeat ? bars.slice(1) : bars }
  })
}
