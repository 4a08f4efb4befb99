import { watchDebounced } from '@vueuse/core'
import { computed, reactive, watch, type Ref } from 'vue'

import { api, type Plan, type PlanWish } from '@/api/client'
import { useAsked } from './useAsked'

/** Voices to start from: lowest and highest comfortable note (common practice). */
export const VOICES = [
  { label: 'no singer', low: null, high: null },
  { label: 'soprano, C4–A5', low: 'C4', high: 'A5' },
  { label: 'alto, F3–D5', low: 'F3', high: 'D5' },
  { label: 'tenor, C3–A4', low: 'C3', high: 'A4' },
  { label: 'bass, E2–E4', low: 'E2', high: 'E4' },
  { label: 'own range …', low: '', high: '' },
] as const

/** No limit; selects show nothing for null. */
export const UNBOUND = -1
export const OWN_VOICE = VOICES.length - 1

/** What a teacher can weigh, in quarters; 4 leaves it as it is. */
export const WEIGHTS = ['easy left hand', 'ringing', 'little retuning', 'low capo'] as const

/** What is asked of the ways to play; an empty word leaves it open. */
export interface Wanted {
  key: string
  current: string
  mayRetune: boolean
  voice: number
  low: string
  high: string
  /** Tunings she is willing to use; none ticked means all. */
  tunings: string[]
  highestCapo: number
  mostDown: number
  weights: Record<string, number>
}

const OPEN = { current: '', tunings: [] as string[], highestCapo: UNBOUND, mostDown: UNBOUND }

/**
 * Ranked ways to play a tune, worked out anew as the wishes change. Nothing is asked before the instrument is known;
 * `usual` is what the teacher has an instrument tuned to, "" where she has not said.
 */
export function usePlans(tuneId: Ref<number>, instrument: Ref<string>, idiom: Ref<string>, usual: (instrument: string) => string) {
  const asked = useAsked<Plan[]>()
  const reason = useAsked<{ said: string }>()
  const wanted = reactive<Wanted>({
    ...OPEN,
    key: '',
    mayRetune: true,
    voice: 0,
    low: '',
    high: '',
    weights: Object.fromEntries(WEIGHTS.map((name) => [name, 4])),
  })
  const wish = computed<PlanWish>(() => ({
    instrument: instrument.value,
    idiom: idiom.value,
    key: wanted.key || null,
    tunings: wanted.tunings.length ? wanted.tunings : null,
    current: wanted.current || null,
    may_retune: wanted.mayRetune,
    highest_capo: wanted.highestCapo === UNBOUND ? null : wanted.highestCapo,
    most_down: wanted.mostDown === UNBOUND ? null : wanted.mostDown,
    voice_low: (wanted.voice === OWN_VOICE ? wanted.low.trim() : VOICES[wanted.voice]!.low) || null,
    voice_high: (wanted.voice === OWN_VOICE ? wanted.high.trim() : VOICES[wanted.voice]!.high) || null,
    weights: { ...wanted.weights },
  }))
  const load = async () => {
    if (instrument.value) await asked.ask(() => api.plans(tuneId.value, wish.value))
  }
  const explain = (tuning: string, capo: number) =>
    reason.ask(() => api.whyNot(tuneId.value, { ...wish.value, expected_tuning: tuning, expected_capo: capo }))

  // The ways of another instrument are none to choose from, however long the new ones take.
  watch([instrument, idiom], () => (asked.answer.value = null), { flush: 'sync' })
  watch(instrument, (name) => {
    Object.assign(wanted, OPEN, { current: usual(name) })
    reason.answer.value = null
  })
  watchDebounced(wish, load, { debounce: 120 })

  return { wanted, plans: asked.answer, problem: asked.problem, busy: asked.busy, reason, explain }
}
