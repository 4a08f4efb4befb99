/** A tuning that the whole instrument is moved from: "gCGCD↓2" is gCGCD with all strings two semitones down. */
export function splitTuning(id: string): { base: string; moved: number } {
  const found = /^(.*?)([↓↑])(\d+)$/.exec(id)
  if (!found) return { base: id, moved: 0 }
  return { base: found[1]!, moved: Number(found[3]) * (found[2] === '↓' ? -1 : 1) }
}

export function joinTuning(base: string, moved: number): string {
  return moved ? `${base}${moved > 0 ? '↑' : '↓'}${Math.abs(moved)}` : base
}

const DISTANCES: Record<number, string> = { 1: 'a semitone', 2: 'a tone' }

export function movedLabel(moved: number, relative: boolean): string {
  if (!moved) return relative ? 'as written' : 'as named'
  return `${DISTANCES[Math.abs(moved)] ?? `${Math.abs(moved)} semitones`} ${moved > 0 ? 'up' : 'down'}`
}
