import { computed, shallowReactive, shallowRef, type Ref, type ShallowRef } from 'vue'

import { isUnreachable, Refused, type Problem } from '@/api/client'

/** Milliseconds after which a change that got no answer is sent again; after the last one it has failed. */
export const RETRY_AFTER = [300, 1000, 2500, 4000]

/** A change on its way to the server. The server makes it once, however often it is sent under its id. */
export interface Entry<T = unknown> {
  id: string
  /** What it does, as a teacher would say it. */
  label: string
  /** What is sent, for a queue that can send several at once. */
  change?: unknown
  send: (id: string) => Promise<T>
  /** What its answer means on screen; called at the moment in which the entry leaves the queue. */
  done: (answer: T) => void
}

/** Changes that were not made, with the reason. */
export interface Failure {
  problem: Problem
  entries: Entry[]
  /** Can sending them again help? */
  again: (() => void) | null
}

/** What a queue does beside sending its entries in order. */
interface Habits {
  /** Called after a failure, before the next entry is sent: what the screen shows may not be what the server has. */
  failed?: (problem: Problem) => void | Promise<unknown>
  /** Sends what waits in one go because the page is being left. */
  leave?: (entries: readonly Entry[]) => void
  /** Does `leave` get everything through when the page is gone? */
  outlives?: (entries: readonly Entry[]) => boolean
  /** Refusals that are no trouble. */
  harmless?: (problem: Problem) => boolean
}

export interface ChangeQueue {
  /** What is not answered yet, the one under way first. */
  pending: ShallowRef<readonly Entry[]>
  /** Sends a change when those before it are answered; false where it was not made. */
  add: <T>(entry: Omit<Entry<T>, 'id'>) => Promise<boolean>
  /** Resolves when nothing is pending. */
  idle: () => Promise<void>
}

const queues = shallowReactive<{ pending: ShallowRef<readonly Entry[]>; leave: () => void; safe: () => boolean }[]>([])
const failed = shallowRef<readonly Failure[]>([])

/** Every failure that has not been dismissed, whichever screen it came from. */
export const failures = computed(() => failed.value)
/** How many changes the server has not confirmed. */
export const unconfirmed = computed(() => queues.reduce((sum, queue) => sum + queue.pending.value.length, 0))

export function dismiss(failure: Failure) {
  failed.value = failed.value.filter((one) => one !== failure)
}

const texts = shallowReactive(new Set<Readonly<Ref<boolean>>>())
/** Is a text on screen that has not been saved? */
export const textUnsaved = computed(() => [...texts].some((unsaved) => unsaved.value))

/** A screen tells of a text of its own that may be unsaved; what it gets back ends that. */
export function watchText(unsaved: Readonly<Ref<boolean>>): () => void {
  texts.add(unsaved)
  return () => texts.delete(unsaved)
}

/** May the page be left without losing a change? */
export const safeToLeave = () => !failed.value.some((one) => one.again) && queues.every((queue) => queue.safe())

/** Sends everything that waits; for the moment in which the page goes. */
export function sendBeforeLeaving() {
  for (const queue of queues) queue.leave()
}

/** How often a change is sent again by itself: often where no answer came, once where the server was busy. */
const repeats = (problem: Problem) => (isUnreachable(problem) ? RETRY_AFTER.length : problem.status === 503 ? 1 : 0)
/** Can the same change succeed later? */
const worthRepeating = (problem: Problem) => isUnreachable(problem) || problem.status >= 500 || problem.status === 409
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms))

/** One ordered queue of changes; each is sent when the one before has been answered, again where no answer came. */
export function createChangeQueue(habits: Habits = {}): ChangeQueue {
  const pending = shallowRef<readonly Entry[]>([])
  const outcomes = new Map<Entry, { resolve: (made: boolean) => void; reject: (error: unknown) => void }>()
  const idlers: (() => void)[] = []
  let running = false

  function add<T>(wanted: Omit<Entry<T>, 'id'>): Promise<boolean> {
    const entry = { ...wanted, id: crypto.randomUUID() } as Entry
    const outcome = new Promise<boolean>((resolve, reject) => outcomes.set(entry, { resolve, reject }))
    enqueue([entry])
    return outcome
  }

  function enqueue(entries: readonly Entry[]) {
    pending.value = [...pending.value, ...entries]
    if (!running) void run()
  }

  async function run() {
    running = true
    while (pending.value[0]) await work(pending.value[0])
    running = false
    for (const resolve of idlers.splice(0)) resolve()
  }

  async function work(entry: Entry) {
    try {
      const answer = await attempt(entry)
      pending.value = pending.value.slice(1)
      entry.done(answer)
      settle(entry, true)
    } catch (error) {
      if (!(error instanceof Refused)) {
        pending.value = pending.value.slice(1)
        outcomes.get(entry)?.reject(error)
        outcomes.delete(entry)
        return
      }
      await fail(error.problem)
    }
  }

  async function attempt(entry: Entry): Promise<unknown> {
    for (let again = 0; ; again += 1) {
      try {
        return await entry.send(entry.id)
      } catch (error) {
        if (!(error instanceof Refused) || again >= repeats(error.problem)) throw error
        await pause(RETRY_AFTER[again]!)
      }
    }
  }

  /** A refusal concerns one change; where the server is away, those behind it fail with it. */
  async function fail(problem: Problem) {
    const lost = repeats(problem) ? pending.value : pending.value.slice(0, 1)
    pending.value = pending.value.slice(lost.length)
    if (!habits.harmless?.(problem)) announce(problem, lost)
    await habits.failed?.(problem)
    for (const entry of lost) settle(entry, false)
  }

  /** The failure of an outage that is announced already; what fails later in the same one joins it. */
  let outage: Failure | null = null

  function announce(problem: Problem, entries: readonly Entry[]) {
    const before = isUnreachable(problem) && outage && failed.value.includes(outage) ? outage : null
    const failure: Failure = { problem, entries: [...(before?.entries ?? []), ...entries], again: null }
    if (worthRepeating(problem)) {
      failure.again = () => {
        dismiss(failure)
        enqueue(failure.entries)
      }
    }
    if (isUnreachable(problem)) outage = failure
    failed.value = [...failed.value.filter((one) => one !== before), failure]
  }

  function settle(entry: Entry, made: boolean) {
    outcomes.get(entry)?.resolve(made)
    outcomes.delete(entry)
  }

  const sendEach = () => pending.value.slice(1).forEach((entry) => void entry.send(entry.id).catch(() => undefined))
  queues.push({
    pending,
    leave: () => pending.value.length && (habits.leave ?? sendEach)(pending.value),
    safe: () => !pending.value.length || (habits.outlives?.(pending.value) ?? true),
  })
  const idle = () => (running ? new Promise<void>((resolve) => idlers.push(resolve)) : Promise.resolve())
  return { pending, add, idle }
}
