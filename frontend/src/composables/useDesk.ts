import { useTimeoutFn, watchDebounced } from '@vueuse/core'
import { computed, ref, shallowRef, watch, type Ref } from 'vue'

import { api, type DeskChange, type DeskEntry, type DeskReading, type Problem, type TuneDetail } from '@/api/client'
import { useAsked } from './useAsked'
import { useInOrder } from './useInOrder'

/** Pauses in typing, in milliseconds, after which the text is read, and kept. */
const READ_AFTER = 120
const SAVE_AFTER = 500
/** A save that got no answer is tried again so much later. */
const RETRY_AFTER = 3000

/** What the editor does for the desk: one undo step for each change from elsewhere. */
export interface TextPlace {
  replace: (text: string, at?: number) => void
  select: (start: number, end: number) => void
  focus: () => void
  undo: () => void
  redo: () => void
}

/**
 * A tune on the desk. Its ABC text is the one thing that is edited; form, chart, words and entries are changes of the
 * text that the server makes, so that undo takes back all of them alike.
 */
export function useDesk(tuneId: Ref<number>, editor: Ref<TextPlace | null>) {
  const { answer: tune, problem, ask } = useAsked<TuneDetail>()
  const reads = useAsked<DeskReading>()
  const changing = useAsked<{ abc: string; at?: number; said?: string[] }>()
  const text = ref('')
  const said = ref<string[]>([])
  const revision = ref(0)
  const saved = ref('')
  const conflict = shallowRef<Problem | null>(null)
  const saveProblem = shallowRef<Problem | null>(null)

  /** The newest reading of a text that could be read: strip and tools stay while an error is being typed. */
  const readable = shallowRef<DeskReading | null>(null)
  watch(reads.answer, (reading) => reading?.readable && (readable.value = reading))

  const unsaved = computed(() => tune.value !== null && text.value !== saved.value)
  const read = () => reads.ask(() => api.read(text.value))

  async function load() {
    const loaded = await ask(() => api.tune(tuneId.value))
    if (!loaded) return
    text.value = saved.value = loaded.text
    revision.value = loaded.revision
    conflict.value = null
    await read()
  }

  /** Saves go one after the other: each needs the revision the last one gave. */
  const inOrder = useInOrder()
  const save = () =>
    inOrder(async () => {
      if (!unsaved.value || conflict.value) return
      const kept = text.value
      const saving = useAsked<{ revision: number }>()
      const done = await saving.ask(() => api.saveText(tuneId.value, kept, revision.value))
      saveProblem.value = saving.problem.value?.status === 409 ? null : saving.problem.value
      if (saving.problem.value?.status === 409) conflict.value = saving.problem.value
      if (saving.problem.value && !conflict.value) retry()
      if (!done) return
      saved.value = kept
      revision.value = done.revision
    })

  const { start: retry } = useTimeoutFn(() => void save(), RETRY_AFTER, { immediate: false })

  /** After a conflict: this window's text over the other one. */
  async function keepMine() {
    const other = await ask(() => api.tune(tuneId.value))
    if (!other) return
    revision.value = other.revision
    conflict.value = null
    await save()
  }

  watchDebounced(text, read, { debounce: READ_AFTER })
  watchDebounced(text, save, { debounce: SAVE_AFTER })

  /** A change of the whole text by the server; it comes back as one step of undo. */
  async function change(what: DeskChange): Promise<boolean> {
    const done = await changing.ask(() => api.change(text.value, what))
    if (!done) return false
    said.value = done.said ?? []
    editor.value?.replace(done.abc)
    return true
  }

  /** Something entered at a place of the text. Entries go one after the other. */
  const entering = useInOrder()
  const enter = (entry: DeskEntry, at: () => number) =>
    entering(async () => {
      const done = await changing.ask(() => api.enter(text.value, at(), entry))
      if (done) editor.value?.replace(done.abc, done.at)
    })

  return {
    tune, problem, text, reading: reads.answer, readable, said, unsaved, conflict, saveProblem,
    changeProblem: changing.problem, load, save, keepMine, change, enter,
    select: (start: number, end: number) => editor.value?.select(start, end),
  }
}
