import { describe, expect, it } from 'vitest'

import type { BarScore, Score, Start } from '@/api/types'
import { loopOfBars, loopOfStep, loopOfTurns, loopOfWhole, loopOver, placeAt, programmeOf } from '@/practice/programme'

const start = (more: Partial<Start> = {}): Start => ({ at: 0, counts: [{ at: 0, strong: true, said: '1' }], counts_length: 1, lead: null, ends: {}, ...more })
const note = (at: number, more: object = {}) => ({
  at,
  swung: at ? 0.04 : 0,
  late: 0,
  seconds: 2,
  voice: `banjo-${at}`,
  loud: 1,
  string: 1,
  bend: 0,
  melody: true,
  ...more,
})

function bar(place: number, length: number, more: Partial<BarScore> = {}): BarScore {
  return {
    place,
    again: false,
    upbeat: false,
    number: place,
    length,
    half: length / 2,
    takes: [{ upto: 150, heard: [note(0), note(length / 2, { melody: false })] }],
    counts: [{ at: 0, strong: true, said: '1' }],
    backing: { jig: [{ at: 0, swung: 0, length: 0.25, part: 'bass', voices: ['guitar-1'] }] },
    starts: [start(), start({ at: length / 2 })],
    ...more,
  }
}

/** An upbeat of a quarter into bar 1; bar 2 has a quarter to spare at its end. */
const score: Score = {
  bars: [bar(0, 0.25), bar(1, 1, { starts: [start({ lead: { bar: 0, start: 0, end: 0.25 }, ends: { 2: 0.75 }, counts_length: 1.75 }), start({ at: 0.5 })] }), bar(2, 1), bar(3, 1)],
  order: [0, 1, 2, 1, 3],
  lines: [[0, 3]],
  parts: [[0, 3]],
  turns: [
    { bars: [0, 1], heard: true },
    { bars: [0, 1], heard: false },
  ],
  tab: [],
}
const manner = { percent: 100, wholeSeconds: 2, swing: 0, company: 'jig' }

describe('loops', () => {
  it('lead back by the pickup where the last bar has room for it', () => {
    const loop = loopOfBars(score, 1, 2)
    expect(loop.pickup).toBe(true)
    expect(loop.lead).toEqual([{ bar: 0, start: 0, end: 0.25 }])
    expect(loop.spans).toEqual([
      { bar: 1, start: 0, end: 1 },
      { bar: 2, start: 0, end: 0.75 },
      { bar: 0, start: 0, end: 0.25 },
    ])
  })

  it('have the upbeat once where it has no room, and none from the middle of a bar', () => {
    expect(loopOfBars(score, 1, 3)).toMatchObject({ pickup: false, lead: [{ bar: 0 }] })
    expect(loopOver(score, [{ bar: 1, start: 0.5, end: 1 }])).toMatchObject({ pickup: false, lead: [] })
  })

  it('play the whole with its repeats, and leave every second phrase to the player', () => {
    expect(loopOfWhole(score).spans.map((span) => span.bar)).toEqual([0, 1, 2, 1, 3])
    expect(loopOfTurns(score).spans.map((span) => span.silent)).toEqual([false, false, true, true])
  })

  it('of a step know their bars by the written place', () => {
    const spans = [{ place: 2, again: false, start: 0.5, end: 1 }, { place: 3, again: false, start: 0, end: 0.5 }]
    expect(loopOfStep(score, { spans, lead_in: [], pickup: false }).spans.map((span) => span.bar)).toEqual([2, 3])
  })
})

describe('a programme', () => {
  const programme = programmeOf(score, loopOfBars(score, 1, 2), manner)

  it('has the counts, the upbeat, then the round', () => {
    expect([programme.lead, programme.round, programme.end]).toEqual([1.75, 2, 4])
    const tune = programme.strikes.filter((one) => one.channel === 'melody').map((one) => one.at)
    expect(tune).toEqual([1.75, 2, 3, 3.75])
  })

  it('leaves out what a stretch has cut off, and what is left for the player', () => {
    const cut = programmeOf(score, loopOver(score, [{ bar: 2, start: 0.5, end: 1 }]), manner)
    expect(cut.strikes.map((one) => one.channel)).toEqual(['before', 'others'])
    const turns = programmeOf(score, loopOfTurns(score), manner)
    const channels = (from: number, to: number) => new Set(turns.strikes.filter((one) => one.at >= from && one.at < to).map((one) => one.channel))
    expect(channels(turns.round, turns.round + 1.25)).toContain('melody')
    expect(channels(turns.round + 1.25, turns.end)).toEqual(new Set(['company', 'count']))
  })

  it('swings by what is asked, and takes what suits the tempo', () => {
    const others = (percent: number, swing: number, of: Score) =>
      programmeOf(of, loopOfBars(of, 3, 3), { ...manner, percent, swing, company: '' }).strikes.find((one) => one.channel === 'others')!
    expect(others(100, 0.5, score).at - others(100, 0, score).at).toBeCloseTo(0.02)
    const slow = { upto: 60, heard: [note(0), note(0.75, { melody: false })] }
    const shaken = { ...score, bars: score.bars.map((one) => ({ ...one, takes: [slow, ...one.takes] })) }
    expect(others(60, 0, shaken).at).toBe(1.75)
    expect(others(65, 0, shaken).at).toBe(1.5)
  })

  it('gives a grace its own moment before its note, but not before the stretch', () => {
    const graced = [note(0, { late: -0.07 }), note(0.5, { late: -0.07 })]
    const here = { ...score, bars: score.bars.map((one) => ({ ...one, takes: [{ upto: 150, heard: graced }] })) }
    const tune = programmeOf(here, loopOfBars(here, 3, 3), manner).strikes.filter((one) => one.channel === 'melody')
    expect(tune.map((one) => [one.at, one.late])).toEqual([
      [1, -0.07],
      [1.465, 0],
    ])
  })

  it('says where it is', () => {
    expect(placeAt(programme, 1)).toBeNull()
    expect(placeAt(programme, 1.8)).toMatchObject({ passage: { span: { bar: 0 } }, time: expect.closeTo(0.05) as number })
    expect(placeAt(programme, 3)).toMatchObject({ passage: { span: { bar: 2 } }, time: 0 })
    expect(placeAt(programme, 4)).toBeNull()
  })
})
