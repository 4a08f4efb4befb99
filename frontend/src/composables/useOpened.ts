import { watch } from 'vue'

import { api, Refused } from '@/api/client'

/** Tells that a tune is worked on, so that the shelf begins with it; nothing hangs on whether it gets through. */
export function useOpened(tuneId: () => number | undefined) {
  watch(
    tuneId,
    (id) => {
      if (id === undefined) return
      api.opened(id).catch((error: unknown) => {
        if (!(error instanceof Refused)) throw error
      })
    },
    { immediate: true },
  )
}
