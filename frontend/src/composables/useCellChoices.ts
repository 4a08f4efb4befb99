import { useStorage, watchDebounced } from '@vueuse/core'
import { type Ref } from 'vue'

import { api, type CellChoices, type PathState } from '@/api/client'
import { useAsked } from './useAsked'

const PAUSE_MS = 200

/** The patterns and shapes of the selected cell: worked out only while somebody looks at them. */
export function useCellChoices(setupId: Ref<number>, place: Ref<number>, rung: Ref<number>, path: Ref<PathState | null>) {
  const { answer: choices, problem, busy, ask } = useAsked<CellChoices>()
  const open = useStorage('nailhead-cell-choices', false)

  watchDebounced(
    [open, place, rung, () => path.value?.revision],
    ([wanted]) => {
      choices.value = null
      if (wanted && path.value) void ask(() => api.cellChoices(setupId.value, place.value, rung.value))
    },
    { debounce: PAUSE_MS, immediate: true },
  )
  return { choices, problem, busy, open }
}
