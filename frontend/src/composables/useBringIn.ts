import { tryOnScopeDispose } from '@vueuse/core'
import { computed, reactive, ref, shallowRef } from 'vue'

import { api, type BroughtIn, type PreviewChoices, type PreviewTune } from '@/api/client'
import { useAsked } from './useAsked'

/** A choice for a score or MIDI file; empty strings leave it to the file or to a guess. */
export interface FileChoices {
  part: string
  track: string
  grid: string
  triplets: boolean
  metre: string
  pickup: string
  key: string
  repeats: boolean
}

const OPEN: FileChoices = { part: '', track: '', grid: '', triplets: true, metre: '', pickup: '', key: '', repeats: true }

/** A file or a pasted text, what it holds tune by tune, which of them are wanted, and bringing those in. */
export function useBringIn() {
  const previewing = useAsked<boolean>()
  const bringing = useAsked<BroughtIn>()
  const source = shallowRef<File | string>('')
  const choices = reactive<FileChoices>({ ...OPEN })
  const left = shallowRef<PreviewChoices | null>(null)
  const tunes = shallowRef<PreviewTune[]>([])
  const format = ref('')
  const total = ref(0)
  const tablature = ref(false)
  const wanted = ref<Set<number>>(new Set())
  const readable = computed(() => tunes.value.filter((tune) => !tune.refused))
  let abort = new AbortController()

  function forget() {
    abort.abort()
    tunes.value = []
    wanted.value = new Set()
    left.value = null
    total.value = 0
    tablature.value = false
    format.value = ''
    previewing.problem.value = bringing.problem.value = null
    bringing.answer.value = null
  }

  async function preview() {
    forget()
    if (!source.value) return
    abort = new AbortController()
    const { signal } = abort
    const found: PreviewTune[] = []
    const body = new FormData()
    if (typeof source.value === 'string') body.append('text', source.value)
    else body.append('file', source.value)
    for (const [name, value] of Object.entries(choices)) if (value !== '') body.append(name, String(value))
    await previewing.ask(async () => {
      await api
        .preview(body, (line) => {
          if (signal.aborted) return
          if (line.kind === 'start') [format.value, total.value, tablature.value] = [line.format, line.total, line.tablature]
          else if (line.kind === 'choices') left.value = line
          else found.push(line)
          // Twenty at a time, so that a book of hundreds does not redraw for each tune.
          if (found.length % 20 === 0 || found.length === total.value) tunes.value = [...found]
        }, signal)
        .catch((error: unknown) => {
          if (!signal.aborted) throw error
        })
      return true
    })
    if (!signal.aborted) wanted.value = new Set(readable.value.filter((tune) => !tune.on_shelf).map((tune) => tune.place))
  }

  function open(file: File | string) {
    Object.assign(choices, OPEN)
    source.value = file
    return preview()
  }

  function decide(change: Partial<FileChoices>) {
    Object.assign(choices, change)
    return preview()
  }

  function bringIn() {
    const chosen = readable.value.filter((tune) => wanted.value.has(tune.place))
    return bringing.ask(() => api.bringIn(chosen.map((tune) => tune.abc).join('\n')))
  }

  tryOnScopeDispose(() => abort.abort())
  return {
    tunes, readable, format, total, tablature, left, wanted, choices,
    problem: previewing.problem, reading: previewing.busy,
    done: bringing.answer, bringProblem: bringing.problem, bringing: bringing.busy,
    open, decide, forget, bringIn,
  }
}
