import { onMounted, type Ref } from 'vue'

import { api, type Choice } from '@/api/client'
import { useAsked } from './useAsked'

/** The choices of an arrangement where players differ, and which of them it follows. */
export function useChoices(setupId: Ref<number>) {
  const { answer: choices, problem, ask } = useAsked<Choice[]>()
  const load = () => ask(() => api.choices(setupId.value))
  onMounted(load)
  return { choices, problem, load }
}
