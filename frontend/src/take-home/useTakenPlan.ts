import { useStorage } from '@vueuse/core'
import { computed } from 'vue'

import type { Practice, Progress, Room, Said } from '@/api/types'

/** Everything that the page brings along; `ways` is what each word makes of each state of a step. */
export interface Taken {
  key: string
  room: Room
  plan: Practice
  ways: Record<string, Record<Said, Progress>>
  note: string
  date: string
  pages: string[]
  width: number
  height: number
}

const stateOf = (progress: Progress) => `${progress.percent} ${progress.clean} ${progress.done}`

/** The plan with what the pupil has done of it; her browser keeps it. */
export function useTakenPlan(taken: Taken) {
  const done = useStorage<Record<string, Progress>>(`nailhead-${taken.key}`, {})
  const plan = computed<Practice>(() => ({
    ...taken.plan,
    steps: taken.plan.steps.map((step) => ({ ...step, progress: done.value[step.id] ?? step.progress })),
  }))

  async function say(id: string, word: Said): Promise<number | null> {
    const step = plan.value.steps.find((one) => one.id === id)
    const next = step && taken.ways[stateOf(step.progress)]?.[word]
    if (!step || !next) return null
    done.value = { ...done.value, [id]: { ...next, played: step.progress.played + 1 } }
    return next.percent
  }
  return { plan, say }
}
