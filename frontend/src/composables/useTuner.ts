import { watchDebounced } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'

import { api, type HeardPitch, type Tuner } from '@/api/client'
import { useAsked } from './useAsked'

/** As far as a peg turns here, in cents. */
export const MOST_CENTS = 700

/** Strings to tune one by one, what the simulated microphone hears of them, and recordings dropped on it. */
export function useTuner(instrument: Ref<string>, tuning: Ref<string>, current: Ref<string>) {
  const tuner = useAsked<Tuner>()
  const heard = useAsked<HeardPitch>()
  const string = ref(1)
  /** How far each string stands beside its goal, in cents; pegs are turned by changing it. */
  const pegs = ref<Record<number, number>>({})
  const source = ref<'string' | 'recording'>('string')
  let sound: HTMLAudioElement | null = null

  const chosen = computed(() => tuner.answer.value?.strings.find((one) => one.number === string.value) ?? null)
  const off = computed(() => pegs.value[string.value] ?? 0)

  async function load() {
    if (!tuning.value) return
    const found = await tuner.ask(() => api.tuner(instrument.value, tuning.value, current.value || tuning.value))
    if (!found) return
    pegs.value = Object.fromEntries(found.strings.map((one) => [one.number, clamp(-100 * one.semitones)]))
    string.value = (found.strings.find((one) => one.semitones) ?? found.strings[0])?.number ?? 1
    heard.answer.value = null
  }

  function turn(cents: number) {
    pegs.value = { ...pegs.value, [string.value]: clamp(cents) }
  }

  const hear = () => {
    source.value = 'string'
    return heard.ask(() =>
      api.hear(instrument.value, { tuning: tuning.value, capo: 0, fifth: null, string: string.value, off_cents: off.value, noise_db: -45 }),
    )
  }
  const measure = (file: File) => {
    source.value = 'recording'
    return heard.ask(() => api.recording(instrument.value, tuning.value, file))
  }

  /** Plays a string: at its goal, or as far beside it as its peg stands. */
  function play(offCents: number) {
    sound?.pause()
    sound = new Audio(api.toneAddress(instrument.value, tuning.value, string.value, Math.round(offCents)))
    sound.volume = 0.7
    void sound.play().catch(() => undefined)
  }

  watch([instrument, tuning, current], load, { immediate: true })
  watchDebounced([string, off], () => void hear(), { debounce: 180 })

  return { tuner: tuner.answer, problem: tuner.problem, heard: heard.answer, heardProblem: heard.problem, source, string, chosen, off, turn, hear, measure, play }
}

function clamp(cents: number): number {
  return Math.max(-MOST_CENTS, Math.min(MOST_CENTS, cents))
}
