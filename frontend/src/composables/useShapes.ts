import { watchDebounced } from '@vueuse/core'
import { computed, onMounted, ref, watch, type Ref } from 'vue'

import { api, type Shapes, type ShapesWish } from '@/api/client'
import { useAsked } from './useAsked'

/** Hands to choose from (their spans are the server's). */
export const HANDS = ['small', 'medium', 'large'] as const

/** Shapes of a chord on a setup, asked anew as either changes, and which of them is picked. */
export function useShapes(instrument: Ref<string>, wish: Ref<Omit<ShapesWish, 'as_shape'> | null>) {
  const asked = useAsked<Shapes>()
  const picked = ref(0)
  const load = () => {
    const now = wish.value
    if (now?.chord) void asked.ask(() => api.shapes(instrument.value, { ...now, as_shape: true }))
  }
  onMounted(load)
  watch(instrument, () => (asked.answer.value = null), { flush: 'sync' })
  watchDebounced([instrument, wish], load, { debounce: 150 })
  watch(asked.answer, () => (picked.value = 0))
  const shape = computed(() => asked.answer.value?.shapes[picked.value] ?? null)
  return { found: asked.answer, problem: asked.problem, picked, shape }
}
