import { computed, ref, type Ref } from 'vue'

import type { PracticeStep, Room, Score } from '@/api/types'
import { loopOfBars, loopOfStep, loopOfTurns, loopOfWhole, loopOver, type Loop } from './programme'

/** How much is played around the bar that is chosen. */
export const REACHES = [
  ['half', 'Half'],
  ['bar', 'Bar'],
  ['line', 'Line'],
  ['part', 'Part'],
  ['whole', 'Whole'],
] as const
export type Reach = (typeof REACHES)[number][0] | 'bars' | 'turns'

/** What is chosen to be played: bars on the page, a step of the plan, a drill, or the tune by turns. */
export function useStretch(room: Ref<Room>, steps: Ref<PracticeStep[]>) {
  const reach = ref<Reach>('whole')
  const anchor = ref(0)
  const other = ref(0)
  const second = ref(false)
  const stepId = ref<string | null>(null)
  const drill = ref<number | null>(null)

  const score = computed<Score>(() => (drill.value === null ? room.value.score : (room.value.drills[drill.value]?.score ?? room.value.score)))
  const step = computed(() => steps.value.find((one) => one.id === stepId.value) ?? null)
  const last = computed(() => score.value.bars.length - 1)
  const around = (spans: [number, number][]) => spans.find(([from, to]) => from <= anchor.value && anchor.value <= to) ?? [0, last.value]

  const loop = computed<Loop>(() => {
    const here = score.value
    if (drill.value !== null) return loopOfWhole(here)
    if (step.value) return loopOfStep(here, step.value.loop)
    const bar = here.bars[Math.min(anchor.value, last.value)]!
    switch (reach.value) {
      case 'turns':
        return loopOfTurns(here)
      case 'half':
        if (bar.half === null) return loopOfBars(here, anchor.value, anchor.value)
        return loopOver(here, [{ bar: anchor.value, start: second.value ? bar.half : 0, end: second.value ? bar.length : bar.half }])
      case 'bar':
        return loopOfBars(here, anchor.value, anchor.value)
      case 'bars':
        return loopOfBars(here, Math.min(anchor.value, other.value), Math.max(anchor.value, other.value))
      case 'line':
        return loopOfBars(here, ...(around(here.lines as [number, number][]) as [number, number]))
      case 'part':
        return loopOfBars(here, ...(around(here.parts as [number, number][]) as [number, number]))
      default:
        return loopOfWhole(here)
    }
  })

  /** The bars that are marked on the page: where in each of them what is played begins and ends. */
  const marked = computed(() => {
    if (drill.value === null && !step.value && (reach.value === 'whole' || reach.value === 'turns')) return new Map<number, [number, number]>()
    return new Map(loop.value.spans.map((span) => [span.bar, [span.start, span.end] as [number, number]]))
  })

  function leave() {
    stepId.value = null
    drill.value = null
  }

  /** A bar is chosen; `extend` takes in the bars up to it. */
  function pick(bar: number, extend = false) {
    leave()
    if (extend) {
      other.value = bar
      reach.value = anchor.value === bar ? 'bar' : 'bars'
      return
    }
    anchor.value = other.value = bar
    second.value = false
    if (reach.value !== 'half') reach.value = 'bar'
  }

  /** Goes on by so many bars, or half bars where those are played. */
  function move(by: number, extend = false) {
    if (reach.value === 'half' && !extend && !step.value && drill.value === null && score.value.bars[anchor.value]!.half !== null) {
      if (second.value !== by > 0) {
        second.value = by > 0
        return
      }
      second.value = by < 0
      anchor.value = other.value = Math.max(0, Math.min(last.value, anchor.value + by))
      return
    }
    leave()
    const from = extend ? other.value : anchor.value
    const to = Math.max(0, Math.min(room.value.score.bars.length - 1, from + by))
    if (extend) return pick(to, true)
    const kept = reach.value
    pick(to)
    if (kept === 'line' || kept === 'part') reach.value = kept
  }

  function take(how: Reach) {
    leave()
    reach.value = how
  }

  function takeStep(id: string) {
    drill.value = null
    stepId.value = id
    const first = room.value.score.bars.findIndex((bar) => bar.place === step.value?.loop.spans[0]?.place)
    if (first >= 0) anchor.value = other.value = first
  }

  function takeDrill(index: number | null) {
    stepId.value = null
    drill.value = index
  }

  const named = computed(() => {
    if (drill.value !== null) return room.value.drills[drill.value]?.title ?? ''
    if (step.value) return step.value.title
    if (reach.value === 'turns') return 'My turn, your turn'
    if (reach.value === 'whole') return 'The whole, as it is played'
    const number = (bar: number) => score.value.bars[bar]!.number
    const spans = loop.value.pickup ? loop.value.spans.slice(0, -1) : loop.value.spans
    const full = spans.filter((span) => !score.value.bars[span.bar]!.upbeat)
    if (!full.length) return 'The upbeat'
    const [from, to] = [number(full[0]!.bar), number(full[full.length - 1]!.bar)]
    if (reach.value === 'half') return `Bar ${from}, ${second.value ? 'second' : 'first'} half`
    return (from === to ? `Bar ${from}` : `Bars ${from} to ${to}`) + (loop.value.pickup ? ', round by the pickup' : '')
  })

  return { reach, anchor, step, drill, score, loop, marked, named, pick, move, take, takeStep, takeDrill }
}
