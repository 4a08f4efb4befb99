import type { Context } from 'tone/build/esm/core/context/Context.js'

import type { Programme, Strike } from './programme'

/** How a round is begun and whether it comes again. */
export interface Rounds {
  countIn: 'none' | 'first' | 'every'
  again: boolean
}

/** The transport's ticks in a whole note. */
export const TICKS = 4 * 192
/** So many whole notes are laid out at a time. */
const STRETCH = 2
/** Where a programme begins, and where a round comes again from, in its whole notes. */
export const beginOf = (programme: Programme, rounds: Rounds) => (rounds.countIn === 'none' ? programme.lead : 0)
export const againFrom = (programme: Programme, rounds: Rounds) => (rounds.countIn === 'every' ? 0 : programme.round)

/**
 * Lays rounds of a programme one behind the other on a transport that runs straight on. (Its own loop comes a tick late
 * every time, 2.5 ms at a usual tempo.) What comes next is laid out while it is played.
 */
export function makeRounds(context: Context, strike: (one: Strike, time: number, wholeSeconds: number) => void, ended: () => void) {
  const { transport } = context
  let programme: Programme = { strikes: [], passages: [], lead: 0, round: 0, end: 0 }
  let rounds: Rounds = { countIn: 'none', again: false }
  /** Where on the transport the programme's beginning would lie in the round that is played, in whole notes. */
  let origin = 0

  const at = (wholes: number) => `${wholes * TICKS}i`
  const once = () => programme.end - againFrom(programme, rounds)

  /**
   * The strikes of the round whose beginning lies at `from`, from `since` on, but for those that are over: a stretch at a
   * time, so that a long tune is begun as soon as a short one.
   */
  function lay(from: number, since: number, over: number) {
    const to = since + STRETCH
    for (const one of programme.strikes)
      if (one.at >= since && one.at < to && from + one.at >= over)
        transport.scheduleOnce((time) => strike(one, time, 240 / transport.bpm.value), at(from + one.at))
    if (to < programme.end) return whenPast(from + to - STRETCH / 2, over, () => lay(from, to, over))
    if (!rounds.again) return void transport.scheduleOnce(ended, at(from + programme.end))
    const again = againFrom(programme, rounds)
    whenPast(from + Math.max((again + programme.end) / 2, programme.end - STRETCH / 2), over, () => lay(from + once(), again, over))
  }

  function whenPast(wholes: number, over: number, told: () => void) {
    if (wholes <= over) told()
    else transport.scheduleOnce(told, at(wholes))
  }

  /** Begins a programme anew; the transport stands still. */
  function begin(wanted: Programme, how: Rounds) {
    ;[programme, rounds, origin] = [wanted, how, 0]
    transport.cancel(0)
    lay(0, beginOf(programme, rounds), 0)
    return at(beginOf(programme, rounds))
  }

  /** Goes on with a programme of the same shape, from where the one before it is. */
  function goOn(wanted: Programme, how: Rounds, now: number) {
    position(now)
    ;[programme, rounds] = [wanted, how]
    transport.cancel(0)
    lay(origin, 0, transport.getTicksAtTime(now) / TICKS)
  }

  /** Where in its programme a moment of the context lies. */
  function position(time: number): number {
    const wholes = transport.getTicksAtTime(time) / TICKS
    while (rounds.again && wholes >= origin + programme.end) origin += once()
    return wholes - origin
  }

  return { begin, goOn, position }
}
