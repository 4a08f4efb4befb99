import { type Ref } from 'vue'

import { api, type Sheet, type SheetWish } from '@/api/client'
import { useArrangementQueue } from './useArrangementQueue'
import { useAsked } from './useAsked'

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

  return { sheet, problem, busy, load, show }
}
