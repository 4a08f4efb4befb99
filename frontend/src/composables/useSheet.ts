import { type Ref } from 'vue'

import { api, type Sheet, type SheetWish } from '@/api/client'
import { createChangeQueue } from './changeQueue'
import { useArrangementQueue } from './useArrangementQueue'
import { useAsked } from './useAsked'

const prints = createChangeQueue()

/** The sheet of an arrangement and what it shows; every option is kept at once, a step like any other. */
export function useSheet(setupId: Ref<number>) {
  const { answer: sheet, problem, busy, ask } = useAsked<Sheet>()
  const queue = useArrangementQueue(setupId.value)

  async function lay() {
    const before = queue.answers()
    const laid = await ask(() => api.sheet(setupId.value))
    if (laid && before === queue.answers()) queue.standAt(laid.revision)
  }
  queue.onFailure(lay)

  async function load() {
    await queue.idle()
    await lay()
  }

  /** The sheet is laid out anew whatever became of the change: what it shows is what the server has. */
  async function show(options: SheetWish) {
    if (!sheet.value) return
    const made = await queue.change({ do: 'sheet', options }, 'What the sheet shows', () => undefined)
    if (made) await lay()
  }

  /** Printing waits for nothing; what was printed is kept beside it. */
  const printed = () =>
    void prints.add({ label: 'Keeping what was printed', send: () => api.printed(setupId.value), done: () => undefined })

  return { sheet, problem, busy, load, show, printed }
}
