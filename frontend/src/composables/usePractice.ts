import { computed, ref, type Ref } from 'vue'

import { api, Refused, type Practice, type PracticeWish, type Problem, type Room, type Said } from '@/api/client'
import { useAsked } from './useAsked'
import { useArrangementOrder } from './useInOrder'

/** The practice room of an arrangement: what is drawn and what sounds, its plan, and what is done of it. */
export function usePractice(setupId: Ref<number>, size: Ref<string>) {
  const { answer: room, problem: roomProblem, ask: askRoom } = useAsked<Room>()
  const { answer: plan, problem: planProblem, ask: askPlan } = useAsked<Practice>()
  const refused = ref<Problem | null>(null)
  const inOrder = useArrangementOrder(() => setupId.value)

  const loadRoom = () => inOrder(() => askRoom(() => api.room(setupId.value, size.value)))
  const load = () => inOrder(() => Promise.all([askRoom(() => api.room(setupId.value, size.value)), askPlan(() => api.practice(setupId.value))]))

  async function attempt<T>(work: () => Promise<T>): Promise<T | null> {
    try {
      const done = await inOrder(work)
      refused.value = null
      return done
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      refused.value = error.problem
      return null
    }
  }

  /** One word after a time played; the answer is the tempo to go on with, in percent. */
  async function say(step: string, word: Said): Promise<number | null> {
    const progress = await attempt(() => api.said(setupId.value, step, word))
    if (!progress || !plan.value) return null
    plan.value = { ...plan.value, steps: plan.value.steps.map((one) => (one.id === step ? { ...one, progress } : one)) }
    return progress.percent
  }

  async function wish(wanted: PracticeWish) {
    const changed = await attempt(() => api.setPractice(setupId.value, wanted))
    if (changed) plan.value = changed
    else if (plan.value) plan.value = { ...plan.value }
  }

  const problem = computed(() => roomProblem.value ?? planProblem.value)
  return { room, plan, problem, refused, load, loadRoom, say, wish }
}
