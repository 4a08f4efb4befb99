import { watchDebounced } from '@vueuse/core'
import { computed, onMounted, reactive, type Ref } from 'vue'

import { api, type Instrument, type SetupAnswer, type SetupWish } from '@/api/client'
import { useAsked } from './useAsked'

/** The choice that leaves it to Nailhead; selects show nothing for null. */
export const LEFT_OPEN = 'open'
const decided = (choice: string) => (choice === LEFT_OPEN ? null : choice)

/** The teacher's wishes for a setup, and what the server makes of them while she chooses. */
export function useSetup(tuneId: Ref<number>) {
  const instruments = useAsked<Instrument[]>()
  const tried = useAsked<SetupAnswer>()
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
  const retry = () => tried.ask(() => api.trySetup(tuneId.value, wish.value))

  onMounted(() => {
    void instruments.ask(api.instruments)
    void retry()
  })
  watchDebounced(wish, retry, { debounce: 60 })

  return { chosen, instrument, answer: tried.answer, problem: tried.problem }
}
