import { computed, ref, shallowRef } from 'vue'

import { api, Refused, type Instrument, type Problem, type Settings, type Settled } from '@/api/client'
import { useInOrder } from './useInOrder'

const settled = shallowRef<Settled | null>(null)
const problem = ref<Problem | null>(null)
const inOrder = useInOrder()
let asked: Promise<unknown> | null = null

async function take(work: () => Promise<Settled>) {
  try {
    settled.value = await work()
    problem.value = null
  } catch (error) {
    if (!(error instanceof Refused)) throw error
    problem.value = error.problem
  }
}

/** What the teacher has settled, the same everywhere; asked for once, kept at every change. */
export function useSettings() {
  if (!settled.value) asked ??= take(api.settings).finally(() => (asked = null))
  const settings = computed(() => (settled.value?.settings ?? null) as Settings | null)

  /** One change after the other, each upon what stands by then. */
  const settle = (change: Partial<Settings>) =>
    inOrder(async () => {
      if (settings.value) await take(() => api.settle({ ...settings.value!, ...change }))
    })
  const ready = () => asked ?? Promise.resolve()

  return { settled, settings, problem, settle, ready }
}

/** The instruments that are taught, before the others. */
export function taughtFirst(all: Instrument[], settings: Settings | null): Instrument[] {
  const taught = settings?.instruments ?? []
  return [...all].sort((one, other) => Number(taught.includes(other.id)) - Number(taught.includes(one.id)))
}
