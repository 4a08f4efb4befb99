import type { BarFrame } from '@/api/client'
import type { AnyChange } from '@/composables/useArrangementQueue'

/** What the changes are called that name no bar. */
const WORDS: Partial<Record<AnyChange['do'], string>> = {
  undo: 'Undo',
  redo: 'Redo',
  choose: 'Another choice for the arrangement',
  'own pattern': 'Your own pattern',
  'drop pattern': 'Deleting a pattern',
  setup: 'Another setup',
  sheet: 'What the sheet shows',
  'throw away': 'Deleting what was set aside',
  'raise part': 'Moving matching bars',
}

/** "Bar 3", "Bars 3 to 6", "Bars 1, 5". */
export function barWords(numbers: number[]): string {
  const sorted = [...new Set(numbers)].sort((one, other) => one - other)
  const [first, last] = [sorted[0], sorted.at(-1)]
  if (sorted.length === 1) return first === 0 ? 'Pickup' : `Bar ${first}`
  return last! - first! === sorted.length - 1 ? `Bars ${first} to ${last}` : `Bars ${sorted.join(', ')}`
}

/** A change in a teacher's words, for when it could not be made. */
export function changeWords(change: AnyChange, frames: readonly BarFrame[]): string {
  const number = (place: number) => frames.find((bar) => bar.place === place)?.number ?? place + 1
  switch (change.do) {
    case 'rungs':
      return `${barWords(change.places.map(number))} on rung ${change.rung}`
    case 'raise':
      return `${barWords(change.places.map(number))} ${change.by > 0 ? 'up' : 'down'} a rung`
    case 'level':
      return `All bars on rung ${change.rung}`
    case 'at most':
      return `Grade ${change.grade} at most`
  }
  if (WORDS[change.do]) return WORDS[change.do]!
  if ('places' in change) return barWords(change.places.map(number))
  return 'place' in change ? `Change in bar ${number(change.place)}` : 'A change'
}
