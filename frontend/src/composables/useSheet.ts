import { ref, type Ref } from 'vue'

import { api, Refused, type Problem, type Sheet, type SheetWish } from '@/api/client'
import { useAsked } from './useAsked'
import { useArrangementOrder } from './useInOrder'

/** The sheet of an arrangement and what it shows; every option is kept at once, a step like any other. */
export function useSheet(setupId: Ref<number>) {
  const { answer: sheet, problem, busy, ask } = useAsked<Sheet>()
  const refused = ref<Problem | null>(null)
  const inOrder = useArrangementOrder(() => setupId.value)
  const lay = () => ask(() => api.sheet(setupId.value))
  const load = () => inOrder(lay)

  const show = (options: SheetWish) =>
    inOrder(async () => {
      if (!sheet.value) return
      try {
        await api.arrange(setupId.value, { do: 'sheet', options }, sheet.value.revision)
        refused.value = null
      } catch (error) {
        if (!(error instanceof Refused)) throw error
        refused.value = error.problem
      }
      await lay()
    })

  return { sheet, problem, refused, busy, load, show }
}
