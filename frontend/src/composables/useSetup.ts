import { watchDebounced } from '@vueuse/core'
import { computed, onMounted, reactive, watch, type Ref } from 'vue'

import { api, type Instrument, type Neck, type SetupAnswer, type SetupWish } from '@/api/client'
import { useAsked } from './useAsked'

/** The choice that leaves it to Nailhead; selects show nothing for null. */
export const LEFT_OPEN = 'open'
const decided = (choice: string) => (choice === LEFT_OPEN ? null : choice)

/** The teacher's wishes for a setup, what the server makes of them while she chooses, and the neck to it. */
export function useSetup(tuneId: Ref<number>) {
  const instruments = useAsked<Instrument[]>()
  const tried = useAsked<SetupAnswer>()
  const neck = useAsked<Neck>()
  const chosen = reactive({
    instrument: 'banjo',
    idiom: 'clawhammer',
    tuning: LEFT_OPEN,
    capo: LEFT_OPEN,
    fifth: LEFT_OPEN,
    key: LEFT_OPEN,
  })
  const wish = computed<SetupWish>(() => ({
    instrument: chosen.instrument,
    idiom: chosen.idiom,
    tuning: decided(chosen.tuning),
    capo: decided(chosen.capo) === null ? null : Number(chosen.capo),
    fifth: decided(chosen.fifth),
    key: decided(chosen.key),
  }))
  const instrument = computed(() => instruments.answer.value?.find((one) => one.id === chosen.instrument))

  /** Another instrument: its usual idiom, and nothing decided that belongs to the last one. */
  function take(id: string) {
    const row = instruments.answer.value?.find((one) => one.id === id)
    Object.assign(chosen, {
      instrument: id,
      idiom: row?.idioms[0]?.id ?? '',
      tuning: LEFT_OPEN,
      capo: LEFT_OPEN,
      fifth: LEFT_OPEN,
    })
  }

  /** A way to play that the planner found. */
  function adopt(answer: SetupAnswer) {
    Object.assign(chosen, {
      tuning: answer.tuning,
      capo: String(answer.capo),
      fifth: answer.fifth ?? LEFT_OPEN,
      key: answer.sounding_tonic,
    })
  }

  const retry = () => tried.ask(() => api.trySetup(tuneId.value, wish.value))

  onMounted(() => {
    void instruments.ask(api.instruments)
    void retry()
  })
  watchDebounced(wish, retry, { debounce: 60 })
  watch(tried.answer, (answer) => {
    if (!answer) return
    const { instrument: name, idiom, tuning, capo, fifth, sounding_tonic: key } = answer
    void neck.ask(() => api.neck(tuneId.value, { instrument: name, idiom, tuning, capo, fifth, key }))
  })

  return {
    chosen, instruments: instruments.answer, instrument, answer: tried.answer, problem: tried.problem,
    neck: neck.answer, take, adopt,
  }
}
