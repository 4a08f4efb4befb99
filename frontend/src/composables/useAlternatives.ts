import { ref, watch, type Ref } from 'vue'

import { api, type Alternative } from '@/api/client'
import { useAsked } from './useAsked'

/** Other ways to play the selected cell: asked for when it is opened, forgotten when another cell is selected. */
export function useAlternatives(setupId: Ref<number>, place: Ref<number>, rung: Ref<number>) {
  const { answer, problem, busy, ask } = useAsked<Alternative[]>()
  const open = ref(false)

  async function load() {
    if (open.value) await ask(() => api.alternatives(setupId.value, place.value, rung.value))
  }

  function toggle() {
    open.value = !open.value
    void load()
  }

  /** The list, asked for where it is not there yet. */
  async function ready(): Promise<Alternative[]> {
    open.value = true
    return answer.value ?? (await ask(() => api.alternatives(setupId.value, place.value, rung.value))) ?? []
  }

  watch([place, rung], () => {
    answer.value = null
    void load()
  })

  return { alternatives: answer, problem, busy, open, toggle, ready }
}
