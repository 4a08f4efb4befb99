import { computed, ref, shallowRef } from 'vue'

import { api, Refused, type Instrument, type Problem, type Settings, type Settled } from '@/api/client'
import { createChangeQueue } from './changeQueue'

const settled = shallowRef<Settled | null>(null)
const problem = ref<Problem | null>(null)
const queue = createChangeQueue()
let asked: Promise<unknown> | null = null

/** What each setting is called when it could not be kept. */
const NAMES: Record<keyof Settings, string> = {
  first_screen: 'The first screen',
  instruments: 'What you teach',
  tunings: 'Usual tunings',
  hand: 'Your hand',
  units: 'Units',
  schools: 'Your school',
  sheet: 'How new sheets look',
}

async function load() {
  try {
    settled.value = await api.settings()
    problem.value = null
  } catch (error) {
    if (!(error instanceof Refused)) throw error
    problem.value = error.problem
  }
}

/** What the teacher has settled, the same everywhere; asked for once, kept at every change. */
export function useSettings() {
  if (!settled.value) asked ??= load().finally(() => (asked = null))
  const settings = computed(() => (settled.value?.settings ?? null) as Settings | null)

  /** One change after the other, each upon what stands by then. */
  async function settle(change: Partial<Settings>) {
    const made = await queue.add<Settled>({
      label: (Object.keys(change) as (keyof Settings)[]).map((name) => NAMES[name]).join(', '),
      send: () => api.settle({ ...settings.value!, ...change }),
      done: (now) => (settled.value = now),
    })
    if (made) return
    // The fields show again what the server has.
    settled.value = null
    await load()
  }
  const ready = () => asked ?? Promise.resolve()

  return { settled, settings, problem, settle, ready }
}

/** The instruments that are taught, before the others. */
export function taughtFirst(all: Instrument[], settings: Settings | null): Instrument[] {
  const taught = settings?.instruments ?? []
  return [...all].sort((one, other) => Number(taught.includes(other.id)) - Number(taught.includes(one.id)))
}
