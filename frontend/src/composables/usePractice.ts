import { computed, type Ref } from 'vue'

import { api, type Practice, type PracticeWish, type Progress, type Room, type Said } from '@/api/client'
import { createChangeQueue, type ChangeQueue } from './changeQueue'
import { useArrangementQueue } from './useArrangementQueue'
import { useAsked } from './useAsked'

const queues = new Map<number, ChangeQueue>()

/** What is said and wished in the practice room of an arrangement, one after the other. */
function queueOf(setupId: number): ChangeQueue {
  if (!queues.has(setupId)) queues.set(setupId, createChangeQueue())
  return queues.get(setupId)!
}

/** The practice room of an arrangement: what is drawn and what sounds, its plan, and what is done of it. */
export function usePractice(setupId: Ref<number>, size: Ref<string>) {
  const { answer: room, problem: roomProblem, ask: askRoom } = useAsked<Room>()
  const { answer: plan, problem: planProblem, ask: askPlan } = useAsked<Practice>()
  const queue = queueOf(setupId.value)
  const arranged = useArrangementQueue(setupId.value)

  const settled = () => Promise.all([arranged.idle(), queue.idle()])
  async function loadRoom() {
    await settled()
    await askRoom(() => api.room(setupId.value, size.value))
  }
  async function load() {
    await settled()
    await Promise.all([askRoom(() => api.room(setupId.value, size.value)), askPlan(() => api.practice(setupId.value))])
  }

  /** One word after a time played; the answer is the tempo to go on with, in percent. */
  async function say(step: string, word: Said): Promise<number | null> {
    let now: Progress | null = null
    await queue.add<Progress>({
      label: `“${word}” for this step`,
      send: (id) => api.said(setupId.value, step, word, id),
      done(progress) {
        now = progress
        if (plan.value) plan.value = { ...plan.value, steps: plan.value.steps.map((one) => (one.id === step ? { ...one, progress } : one)) }
      },
    })
    return (now as Progress | null)?.percent ?? null
  }

  async function wish(wanted: PracticeWish) {
    const made = await queue.add<Practice>({
      label: 'Order and tempo of the plan',
      send: () => api.setPractice(setupId.value, wanted),
      done: (changed) => (plan.value = changed),
    })
    // The fields show again what the server has.
    if (!made && plan.value) plan.value = { ...plan.value }
  }

  const problem = computed(() => roomProblem.value ?? planProblem.value)
  return { room, plan, problem, load, loadRoom, say, wish }
}
