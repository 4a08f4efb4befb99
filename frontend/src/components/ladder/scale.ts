import type { Ladder, Phrase } from '@/api/client'

/** Pixels for a millimetre, at most and at least; what rung names take, and what a window has before it is measured. */
const LARGEST = 4.6
const SMALLEST = 2.7
const NAMES_PX = 120
const USUAL = { width: 940, height: 640 }

/** The drawing is as large as one phrase with all its rungs in sight allows. */
export function scaleOf(ladder: Pick<Ladder, 'head_height' | 'cell_height' | 'rungs'>, phrases: Pick<Phrase, 'width'>[], width: number, height: number): number {
  const widest = Math.max(1, ...phrases.map((phrase) => phrase.width))
  const tall = ladder.head_height + ladder.rungs.length * ladder.cell_height + 3
  const fits = Math.min(((width || USUAL.width) - NAMES_PX) / widest, ((height || USUAL.height) - 16) / tall)
  return Math.max(SMALLEST, Math.min(LARGEST, fits))
}
