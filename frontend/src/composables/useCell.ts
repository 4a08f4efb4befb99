import { watchDebounced } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'

import { api, type CellDetail, type Note, type PathState, type Unison } from '@/api/client'
import { useAsked } from './useAsked'

const PAUSE_MS = 120

/** The selected cell note by note, and the selected note in it with its places. */
export function useCell(setupId: Ref<number>, place: Ref<number>, rung: Ref<number>, path: Ref<PathState | null>) {
  const { answer, problem, ask } = useAsked<CellDetail>()
  /** Null until it has come: another bar's notes are not shown under this one's name. */
  const cell = computed(() => {
    const last = answer.value
    return last?.place === place.value && last.rung === rung.value ? last : null
  })
  const places = useAsked<Unison[]>()
  const picked = ref<{ onset: string; string: number } | null>(null)

  const note = computed<Note | null>(() => {
    const at = picked.value
    return cell.value?.notes.find((one) => one.onset === at?.onset && one.string === at?.string) ?? null
  })

  const load = () => ask(() => api.cell(setupId.value, place.value, rung.value))

  function pick(onset: string, string: number) {
    picked.value = { onset, string }
  }

  watch([place, rung], () => (picked.value = null))
  watchDebounced([place, rung, () => path.value?.revision], () => path.value && load(), { debounce: PAUSE_MS, immediate: true })
  watch(note, (now) => {
    places.answer.value = null
    if (now?.role === 'melody' && !now.held) void places.ask(() => api.unisons(setupId.value, place.value, now.onset))
  })

  return { cell, problem, picked, note, places: places.answer, pick, unpick: () => (picked.value = null) }
}
