import { onMounted, type Ref } from 'vue'

import { api, type Choice } from '@/api/client'
import { useAsked } from './useAsked'

/** The choices of an arrangement where players differ; taking one asks for the ladder anew. */
export function useChoices(setupId: Ref<number>, changed: () => void) {
  const { answer: choices, problem, ask } = useAsked<Choice[]>()

  async function choose(name: string, way: string) {
    if (await ask(() => api.choose(setupId.value, name, way))) changed()
  }

  onMounted(() => ask(() => api.choices(setupId.value)))
  return { choices, problem, choose }
}
