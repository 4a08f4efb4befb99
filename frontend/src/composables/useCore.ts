import { useEventListener, useLocalStorage } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'

import type { CoreNote } from '@/api/client'
import type { useDesk } from './useDesk'

const NONE: CoreNote[] = []

/**
 * The core of the tune on the desk: whether the staff shows it, the note at the cursor, and her word on it. A word is a
 * change of the text, so that undo takes it back like everything else; after it the cursor stands on the same note.
 */
export function useCore(desk: ReturnType<typeof useDesk>, cursor: Ref<number>) {
  const shown = useLocalStorage('nailhead-core-shown', false)
  const notes = computed(() => desk.readable.value?.core ?? NONE)
  const inked = computed(() => (shown.value ? notes.value : NONE))
  const note = computed(() => notes.value.find((one) => one.start <= cursor.value && cursor.value < one.end) ?? null)

  /** The note that a word was said on, until a reading of the changed text has it. */
  const said = ref<{ place: number; onset: string; decided: boolean } | null>(null)

  async function decide(taken: boolean | null) {
    const at = note.value
    if (!at) return
    said.value = { place: at.place, onset: at.onset, decided: taken !== null }
    shown.value = true
    if (!(await desk.change({ kind: 'core', place: at.place, onset: at.onset, taken }))) said.value = null
  }

  watch(notes, (all) => {
    const wanted = said.value
    const again = wanted && all.find((one) => one.place === wanted.place && one.onset === wanted.onset)
    if (!wanted || !again || again.decided !== wanted.decided) return
    said.value = null
    desk.select(again.start, again.end)
  })

  /** `x` takes the note at the cursor in or out, wherever no text is being typed. */
  useEventListener(window, 'keydown', (event) => {
    const typing = (event.target as HTMLElement | null)?.closest('input, textarea, [contenteditable="true"]')
    if (event.key !== 'x' || typing || event.ctrlKey || event.metaKey || event.altKey || !note.value || !shown.value) return
    event.preventDefault()
    void decide(!['bones', 'beat'].includes(note.value.layer))
  })

  return { shown, inked, note, decide }
}
