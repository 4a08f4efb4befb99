import { tryOnScopeDispose, useEventListener } from '@vueuse/core'
import { ref, watch, type Ref } from 'vue'
import { onBeforeRouteLeave, onBeforeRouteUpdate } from 'vue-router'

import { watchText } from './changeQueue'

/** Milliseconds that leaving waits for a save before it asks. */
const PATIENCE = 2000

interface Work {
  /** Is there something that has not been saved? */
  unsaved: Ref<boolean>
  /** Saves it; false where it could not be saved. */
  save: () => Promise<boolean>
}

/**
 * Nothing unsaved is left behind without a word: links and Back save first, and ask where that fails; so does closing
 * the tab, in the browser's own words.
 */
export function useLeaveGuard({ unsaved, save }: Work) {
  /** Is the teacher being asked whether to leave? */
  const asking = ref(false)
  let answer: (leave: boolean) => void = () => undefined

  function decide(leave: boolean) {
    asking.value = false
    answer(leave)
  }

  async function mayLeave(): Promise<boolean> {
    if (!unsaved.value) return true
    const late = new Promise<false>((resolve) => setTimeout(() => resolve(false), PATIENCE))
    if (await Promise.race([save(), late])) return true
    if (!unsaved.value) return true
    asking.value = true
    return new Promise((resolve) => (answer = resolve))
  }

  // Saved after all while the question stands: there is nothing left to ask.
  watch(unsaved, (still) => !still && asking.value && decide(true))
  onBeforeRouteLeave(mayLeave)
  onBeforeRouteUpdate(mayLeave)
  useEventListener(window, 'beforeunload', (event) => unsaved.value && event.preventDefault())
  useEventListener(window, 'pagehide', () => void save())
  tryOnScopeDispose(watchText(unsaved))
  return { asking, decide }
}
