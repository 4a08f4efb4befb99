import { ref, shallowRef, type Ref, type ShallowRef } from 'vue'

import { Refused, type Problem } from '@/api/client'

/** A request's answer, its trouble, and whether it is under way. The latest call wins. */
export interface Asked<T> {
  answer: ShallowRef<T | null>
  problem: Ref<Problem | null>
  busy: Ref<boolean>
  ask: (work: () => Promise<T>) => Promise<T | null>
}

export function useAsked<T>(): Asked<T> {
  const answer = shallowRef<T | null>(null)
  const problem = ref<Problem | null>(null)
  const busy = ref(false)
  let latest = 0

  async function ask(work: () => Promise<T>): Promise<T | null> {
    const mine = ++latest
    busy.value = true
    try {
      const result = await work()
      if (mine !== latest) return null
      answer.value = result
      problem.value = null
      return result
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      if (mine === latest) problem.value = error.problem
      return null
    } finally {
      if (mine === latest) busy.value = false
    }
  }

  return { answer, problem, busy, ask }
}
