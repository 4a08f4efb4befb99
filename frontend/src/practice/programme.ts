import type { BarScore, Count, PracticeLoop, Score, Start } from '@/api/types'

/** A stretch of bar `bar` of a score, in whole notes from its beginning; with `silent` it is left for the player. */
export interface Span {
  bar: number
  start: number
  end: number
  silent?: boolean
}

/** What is played round and round: counts and an upbeat before the first round, then the round. */
export interface Loop {
  spans: Span[]
  lead: Span[]
  counts: Count[]
  countsLength: number
  pickup: boolean
}

/** Who sounds: the tune, the other notes, who keeps company, the count; `before` counts a player in. */
export const CHANNELS = ['melody', 'others', 'company', 'count', 'before'] as const
export type Channel = (typeof CHANNELS)[number]

/** A sound: `at` whole notes from the programme's beginning, `late` seconds behind that; it ends what its `string` sounds. */
export interface Strike {
  at: number
  late: number
  seconds: number
  length: number
  voice: string
  loud: number
  bend: number
  string: string
  channel: Channel
}

/** While which part of a bar is played. */
export interface Passage {
  at: number
  end: number
  span: Span
}

/** Everything that sounds, in whole notes; the round from `round` to `end` is played again and again. */
export interface Programme {
  strikes: Strike[]
  passages: Passage[]
  lead: number
  round: number
  end: number
}

/** How it is played, apart from tempo and levels. */
export interface Manner {
  percent: number
  wholeSeconds: number
  swing: number
  company: string
}

/** Times that differ by less are the same moment. */
const SAME = 1e-9
/** A count is softer than a melody note, and its first stronger. */
const COUNT_LOUD = { strong: 0.8, weak: 0.5 }
/** Bass and drum carry, the chord stands behind. */
const COMPANY_LOUD: Record<string, number> = { bass: 0.7, chord: 0.3, drone: 0.4, drum: 0.9, rim: 0.5 }

const wholeBar = (score: Score, bar: number): Span => ({ bar, start: 0, end: score.bars[bar]!.length })
const near = (a: number, b: number) => Math.abs(a - b) < SAME

function startOf(bar: BarScore, at: number): Start {
  return bar.starts.find((start) => near(start.at, at)) ?? bar.starts[0]!
}

/** A loop over bars as they stand on the page, with the pickup where the last of them has its beats to spare. */
export function loopOver(score: Score, spans: Span[]): Loop {
  const first = spans[0]!
  const last = spans[spans.length - 1]!
  const start = startOf(score.bars[first.bar]!, first.start)
  const begun = { counts: start.counts, countsLength: start.counts_length }
  if (start.lead === null || !near(start.at, first.start)) return { spans, lead: [], pickup: false, ...begun }
  const lead: Span = { ...start.lead }
  const end = near(last.end, score.bars[last.bar]!.length) ? start.ends[last.bar] : undefined
  if (end === undefined) return { spans, lead: [lead], pickup: false, ...begun }
  return { spans: [...spans.slice(0, -1), { ...last, end }, lead], lead: [lead], pickup: true, ...begun }
}

/** Bars from one place to another. */
export function loopOfBars(score: Score, first: number, last: number): Loop {
  const bars = Array.from({ length: last - first + 1 }, (_, at) => wholeBar(score, first + at))
  return loopOver(score, bars)
}

/** The whole as it is played, repeats and all. */
export function loopOfWhole(score: Score): Loop {
  return loopOver(
    score,
    score.order.map((bar) => wholeBar(score, bar)),
  )
}

/** Phrase by phrase, each heard and then left for the player. */
export function loopOfTurns(score: Score): Loop {
  const spans = score.turns.flatMap((turn) => turn.bars.map((bar) => ({ ...wholeBar(score, bar), silent: !turn.heard })))
  return loopOver(score, spans)
}

/** The loop of a step of the plan, which knows bars by their written place. */
export function loopOfStep(score: Score, loop: PracticeLoop): Loop {
  const place = (one: PracticeLoop['spans'][number]): Span => ({
    bar: score.bars.findIndex((bar) => bar.place === one.place && bar.again === one.again),
    start: one.start,
    end: one.end,
  })
  const spans = loop.spans.map(place)
  const start = startOf(score.bars[spans[0]!.bar]!, spans[0]!.start)
  return { spans, lead: loop.lead_in.map(place), pickup: loop.pickup, counts: start.counts, countsLength: start.counts_length }
}

/** A loop as everything that sounds in it. */
export function programmeOf(score: Score, loop: Loop, manner: Manner): Programme {
  const strikes: Strike[] = loop.counts.map((one) => tick(one, one.at, 'before'))
  const passages: Passage[] = []
  let at = loop.countsLength
  const lay = (span: Span) => {
    strikes.push(...strikesOf(score.bars[span.bar]!, span, at, manner))
    passages.push({ at, end: at + span.end - span.start, span })
    at += span.end - span.start
  }
  loop.lead.forEach(lay)
  const round = at
  loop.spans.forEach(lay)
  return { strikes, passages, lead: loop.countsLength, round, end: at }
}

function* strikesOf(bar: BarScore, span: Span, from: number, manner: Manner): Generator<Strike> {
  const inside = (at: number) => at >= span.start - SAME && at < span.end - SAME
  const moved = (one: { at: number; swung: number }) => from + one.at - span.start + manner.swing * one.swung
  const take = bar.takes.find((one) => manner.percent <= one.upto) ?? bar.takes[bar.takes.length - 1]!
  for (const one of span.silent ? [] : take.heard) {
    if (!inside(one.at)) continue
    const channel = one.melody ? 'melody' : 'others'
    const { seconds, voice, loud, bend } = one
    // A grace has a moment of its own, but for one before the stretch's first note.
    const early = Math.min(0, one.late) / manner.wholeSeconds
    const [at, late] = moved(one) + early >= from ? [moved(one) + early, Math.max(0, one.late)] : [moved(one), one.late]
    yield { at, late, seconds, length: Infinity, voice, loud, bend, string: `string ${one.string}`, channel }
  }
  for (const one of bar.backing[manner.company] ?? []) {
    if (!inside(one.at)) continue
    const plain = { at: moved(one), late: 0, seconds: Infinity, length: one.length, loud: COMPANY_LOUD[one.part]!, bend: 0 }
    for (const [number, voice] of one.voices.entries())
      yield { ...plain, voice, string: `${one.part} ${number}`, channel: 'company' }
  }
  for (const one of bar.counts) if (inside(one.at)) yield tick(one, from + one.at - span.start, 'count')
}

function tick(one: Count, at: number, channel: Channel): Strike {
  const [voice, loud] = one.strong ? ['count-first', COUNT_LOUD.strong] : ['count', COUNT_LOUD.weak]
  return { at, late: 0, seconds: Infinity, length: Infinity, voice: voice as string, loud: loud as number, bend: 0, string: 'count', channel }
}

/** Which passage is under way at a moment of a programme, and where in its bar. */
export function placeAt(programme: Programme, at: number): { passage: Passage; time: number } | null {
  const passage = programme.passages.find((one) => at >= one.at - SAME && at < one.end - SAME)
  return passage ? { passage, time: passage.span.start + at - passage.at } : null
}
