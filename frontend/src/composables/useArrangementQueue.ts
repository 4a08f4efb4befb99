import { computed } from 'vue'

import { api, outlivesPage, type Change, type ChangeAnswer, type Problem, type QueuedChange } from '@/api/client'
import { connectionLost } from '@/api/connection'
import { createChangeQueue, type Entry } from './changeQueue'

export type AnyChange = Change | { do: 'undo' } | { do: 'redo' }

const SENDERS = { undo: api.undo, redo: api.redo }

/** The changes of one arrangement in their order, for every screen that shows it, and the revision they begin from. */
function createArrangementQueue(setupId: number) {
  let revision = 0
  /** Goes up with every answer: what was asked for before is older than what the answer brought. */
  let answers = 0
  let reload: (problem: Problem) => Promise<unknown> = () => Promise.resolve()

  const changes = (entries: readonly Entry[]) =>
    entries.map(({ id, change }) => ({ id, change }) as QueuedChange)
  const queue = createChangeQueue({
    // What comes next needs the newest revision; an outage holds up nothing that can fail by itself.
    failed: (problem) => (problem.status === 409 ? reload(problem) : void reload(problem)),
    harmless: (problem) => problem.field === 'step', // undo pressed once too often
    leave: (entries) => api.arrangeAll(setupId, changes(entries), revision),
    outlives: (entries) => !connectionLost.value && outlivesPage(changes(entries)),
  })

  const send = (change: AnyChange, id: string) =>
    change.do === 'undo' || change.do === 'redo' ? SENDERS[change.do](setupId, revision, id) : api.arrange(setupId, change, revision, id)

  return {
    pending: computed(() => queue.pending.value.map((entry) => entry.change as AnyChange)),
    idle: queue.idle,
    answers: () => answers,
    /** What has been loaded is of this revision. */
    standAt: (loaded: number) => (revision = loaded),
    /** Who loads the arrangement again after a failure: the screen that shows it. */
    onFailure: (work: (problem: Problem) => Promise<unknown>) => (reload = work),
    change: (change: AnyChange, label: string, done: (answer: ChangeAnswer) => void) =>
      queue.add<ChangeAnswer>({
        label,
        change,
        send: (id) => send(change, id),
        done(answer) {
          revision = answer.path.revision
          answers += 1
          done(answer)
        },
      }),
  }
}

export type ArrangementQueue = ReturnType<typeof createArrangementQueue>
const queues = new Map<number, ArrangementQueue>()

/** The one queue of an arrangement. */
export function useArrangementQueue(setupId: number): ArrangementQueue {
  if (!queues.has(setupId)) queues.set(setupId, createArrangementQueue(setupId))
  return queues.get(setupId)!
}
