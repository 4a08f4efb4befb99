import { useTimeoutFn, watchDebounced } from '@vueuse/core'
import { computed, ref, shallowRef, watch, type Ref } from 'vue'

import { api, isUnreachable, type DeskChange, type DeskEntry, type DeskReading, type Problem, type TuneDetail } from '@/api/client'
import { connectionLost } from '@/api/connection'
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
export function useDesk(tuneId: number, editor: Ref<TextPlace | null>) {
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
    const loaded = await ask(() => api.tune(tuneId))
    if (!loaded) return
    text.value = saved.value = loaded.text
    revision.value = loaded.revision
    conflict.value = null
    await read()
  }

  /** Saves go one after the other: each needs the revision the last one gave. Gives whether everything is saved. */
  const inOrder = useInOrder()
  const save = () =>
    inOrder(async () => {
      if (!unsaved.value || conflict.value) return !unsaved.value
      const kept = text.value
      const saving = useAsked<{ revision: number }>()
      const done = await saving.ask(() => api.saveText(tuneId, kept, revision.value))
      const problem = saving.problem.value
      conflict.value = problem?.status === 409 ? problem : null
      saveProblem.value = conflict.value ? null : problem
      if (saveProblem.value && !isUnreachable(saveProblem.value)) retry()
      if (done) {
        saved.value = kept
        revision.value = done.revision
      }
      return !unsaved.value
    })

  const { start: retry } = useTimeoutFn(() => void save(), RETRY_AFTER, { immediate: false })

  /** After a conflict: this window's text over the other one. */
  async function keepMine() {
    const other = await ask(() => api.tune(tuneId))
    if (!other) return
    revision.value = other.revision
    conflict.value = null
    await save()
  }

  watchDebounced(text, read, { debounce: READ_AFTER })
  watchDebounced(text, save, { debounce: SAVE_AFTER })
  watch(connectionLost, (lost) => !lost && void save())

  /** What the server makes of the text. What is typed meanwhile stays: it is then asked again, of the newer text. */
  async function made<T>(of: (text: string) => Promise<T>): Promise<T | null> {
    for (;;) {
      const from = text.value
      const done = (await changing.ask(() => of(from) as Promise<never>)) as T | null
      if (!done || text.value === from) return done
    }
  }

  /** A change of the whole text by the server; it comes back as one step of undo. */
  async function change(what: DeskChange): Promise<boolean> {
    const done = await made((from) => api.change(from, what))
    if (!done) return false
    said.value = done.said ?? []
    editor.value?.replace(done.abc)
    return true
  }

  /** Something entered at a place of the text. Entries go one after the other. */
  const entering = useInOrder()
  const enter = (entry: DeskEntry, at: () => number) =>
    entering(async () => {
      const done = await made((from) => api.enter(from, at(), entry))
      if (done) editor.value?.replace(done.abc, done.at)
    })

  return {
    tune, problem, text, reading: reads.answer, readable, said, unsaved, conflict, saveProblem,
    changeProblem: changing.problem, load, save, keepMine, change, enter,
    select: (start: number, end: number) => editor.value?.select(start, end),
  }
}
