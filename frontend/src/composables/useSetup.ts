import { watchDebounced } from '@vueuse/core'
import { computed, onMounted, reactive, type Ref } from 'vue'

import { api, type Instrument, type SetupAnswer, type SetupWish } from '@/api/client'
import { useAsked } from './useAsked'

/** The teacher's wishes for a setup, and what the server makes of them while she chooses. */
export function useSetup(tuneId: Ref<number>) {
  const instruments = useAsked<Instrument[]>()
  const tried = useAsked<SetupAnswer>()
  const wish = reactive<SetupWish>({
    instrument: 'banjo', idiom: 'clawhammer', tuning: null, capo: null, fifth: null, key: null,
  })

  const instrument = computed(() => instruments.answer.value?.find((one) => one.id === wish.instrument))
  const retry = () => tried.ask(() => api.trySetup(tuneId.value, { ...wish }))

  onMounted(() => {
    void instruments.ask(api.instruments)
    void retry()
  })
  watchDebounced(wish, retry, { debounce: 60 })

  return { wish, instrument, answer: tried.answer, problem: tried.problem }
}
