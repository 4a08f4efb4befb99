import type { Context } from 'tone/build/esm/core/context/Context.js'
import { describe, expect, it } from 'vitest'

import type { Programme, Strike } from '@/practice/programme'
import { makeRounds, TICKS, type Rounds } from '@/practice/rounds'

const strike = (at: number): Strike => ({ at, late: 0, seconds: 1, length: 1, voice: '', loud: 1, bend: 0, string: '', channel: 'melody' })
/** A count of a whole note, an upbeat of a quarter, a round of half a note struck twice. */
const programme: Programme = { strikes: [0, 1, 1.25, 1.5].map(strike), passages: [], lead: 1, round: 1.25, end: 1.75 }

/** A transport that stands in for the library's: it runs straight on, a whole note a second. */
function bench() {
  let waiting: { tick: number; told: (time: number) => void }[] = []
  let now = 0
  const transport = {
    bpm: { value: 240 },
    cancel: () => void (waiting = []),
    scheduleOnce: (told: (time: number) => void, at: string) => waiting.push({ tick: parseFloat(at), told }),
    getTicksAtTime: (time: number) => time * TICKS,
  }
  const heard: number[] = []
  let ended = 0
  const rounds = makeRounds({ transport } as unknown as Context, (_, time) => heard.push(time), () => (ended += 1))
  function run(to: number) {
    for (;;) {
      waiting.sort((a, b) => a.tick - b.tick)
      const next = waiting[0]
      if (!next || next.tick / TICKS >= to) break
      waiting.shift()
      now = next.tick / TICKS
      next.told(now)
    }
    now = to
  }
  return { rounds, run, heard, ended: () => ended, waiting: () => waiting.length, now: () => now }
}
const how = (countIn: Rounds['countIn'], again = true): Rounds => ({ countIn, again })

describe('rounds', () => {
  it('are counted in once and follow one another without a gap', () => {
    const { rounds, run, heard } = bench()
    expect(rounds.begin(programme, how('first'))).toBe('0i')
    run(3.2)
    expect(heard).toEqual([0, 1, 1.25, 1.5, 1.75, 2, 2.25, 2.5, 2.75, 3])
    expect(rounds.position(2.6)).toBeCloseTo(1.6)
  })

  it('are counted in every time, or not at all', () => {
    const every = bench()
    every.rounds.begin(programme, how('every'))
    every.run(3.5)
    expect(every.heard).toEqual([0, 1, 1.25, 1.5, 1.75, 2.75, 3, 3.25])
    const none = bench()
    expect(none.rounds.begin(programme, how('none'))).toBe(`${TICKS}i`)
    none.run(1.8)
    expect(none.heard).toEqual([1, 1.25, 1.5, 1.75])
  })

  it('end after one where they do not come again', () => {
    const { rounds, run, heard, ended } = bench()
    rounds.begin(programme, how('first', false))
    run(9)
    expect([heard.length, ended()]).toEqual([4, 1])
  })

  it('go on where they are with other sounds', () => {
    const { rounds, run, heard } = bench()
    rounds.begin(programme, how('first'))
    run(2.3)
    rounds.goOn({ ...programme, strikes: [...programme.strikes, strike(1.7)] }, how('first'), 2.3)
    heard.length = 0
    run(3.3)
    expect(heard).toEqual([2.5, 2.7, 2.75, 3, 3.2, 3.25].map((at) => expect.closeTo(at) as number))
  })

  it('of a long tune are laid out a stretch at a time, and nothing is missed', () => {
    const long = { ...programme, strikes: Array.from({ length: 41 }, (_, place) => strike(place / 4)), end: 10.25 }
    const { rounds, run, heard, waiting } = bench()
    rounds.begin(long, how('first'))
    expect(waiting()).toBeLessThan(12)
    run(19)
    expect(heard).toEqual([...Array.from({ length: 41 }, (_, place) => place / 4), ...Array.from({ length: 35 }, (_, place) => 10.25 + place / 4)])
    rounds.goOn(long, how('first'), 19)
    heard.length = 0
    run(20)
    expect(heard).toEqual([19, 19.25, 19.5, 19.75])
  })

  it('do not pile up', () => {
    const { rounds, run, waiting } = bench()
    rounds.begin(programme, how('first'))
    run(100)
    expect(waiting()).toBeLessThan(12)
  })
})
