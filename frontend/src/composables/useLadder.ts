import { computed, ref, shallowRef, type Ref } from 'vue'

import { api, Refused, type BarFrame, type Cell, type Change, type ChangeAnswer, type Column, type Ladder, type PathState, type Phrase, type Problem } from '@/api/client'
import { useAsked } from './useAsked'

/** The ladder of an arrangement: its phrases as they are needed, and every change of it, one step each. */
export function useLadder(setupId: Ref<number>) {
  const { answer: ladder, problem, ask } = useAsked<Ladder>()
  const path = shallowRef<PathState | null>(null)
  const phrases = shallowRef<Phrase[]>([])
  const changeProblem = ref<Problem | null>(null)
  const remarks = ref<string[]>([])
  const said = ref('')
  const loading = new Set<number>()
  let queue: Promise<unknown> = Promise.resolve()
  /** Changes that are not answered yet; until the last one is, what was foreseen is shown. */
  let pending = 0
  let revision = 0

  const bars = computed<BarFrame[]>(() => phrases.value.flatMap((phrase) => phrase.bars))
  const columns = computed(() => {
    const known = new Map<number, Column>()
    for (const phrase of phrases.value) for (const column of phrase.columns ?? []) known.set(column.place, column)
    return known
  })
  const top = computed(() => ladder.value?.rungs.length ?? 1)

  const cellAt = (place: number, rung: number): Cell | undefined => columns.value.get(place)?.cells[rung - 1]
  const phraseOf = (place: number) => phrases.value.findIndex((phrase) => phrase.bars.some((bar) => bar.place === place))
  const together = (place: number) => {
    const groups = path.value?.groups ?? []
    return bars.value.filter((bar) => groups[bar.place] === groups[place]).map((bar) => bar.place)
  }

  async function load() {
    const loaded = await ask(() => api.ladder(setupId.value))
    if (!loaded) return
    phrases.value = loaded.phrases
    path.value = loaded.path
    revision = loaded.path.revision
  }

  /** Phrases come with their marks when they are first wanted. */
  async function want(index: number) {
    const phrase = phrases.value[index]
    if (!phrase || phrase.columns || loading.has(index)) return
    loading.add(index)
    try {
      take([await api.phrase(setupId.value, index)])
    } finally {
      loading.delete(index)
    }
  }

  function take(changed: Phrase[]) {
    if (!changed.length) return
    const next = [...phrases.value]
    for (const phrase of changed) next[phrase.index] = phrase
    phrases.value = next
  }

  /** What a step of the path will give, shown before the server has answered. */
  function foresee(change: Change) {
    const now = path.value
    if (!now || (change.do !== 'rungs' && change.do !== 'raise' && change.do !== 'level')) return
    const row = change.do !== 'level' && change.second ? 'second' : 'rungs'
    const places = change.do === 'level' ? bars.value.map((bar) => bar.place) : change.places.flatMap(together)
    const next = [...now[row]]
    for (const place of places) {
      if (now.locked.includes(place)) continue
      const wanted = change.do === 'raise' ? next[place]! + change.by : change.rung
      next[place] = Math.max(1, Math.min(top.value, wanted))
    }
    path.value = { ...now, [row]: next }
  }

  async function settle(answer: ChangeAnswer) {
    revision = answer.path.revision
    if (pending === 0) path.value = answer.path
    take(answer.phrases)
    remarks.value = answer.remarks
    said.value = answer.said
    changeProblem.value = null
    if (answer.reload) await load()
  }

  /** One after the other: each needs the revision the last one gave. */
  function inTurn(work: (revision: number) => Promise<ChangeAnswer>): Promise<boolean> {
    pending += 1
    const done = queue.then(async () => {
      try {
        const answer = await work(revision).finally(() => (pending -= 1))
        await settle(answer)
        return true
      } catch (error) {
        if (!(error instanceof Refused)) throw error
        // Undo pressed once too often is no trouble.
        if (error.problem.field !== 'step') changeProblem.value = error.problem
        await load()
        return false
      }
    })
    queue = done.catch(() => undefined)
    return done
  }

  function change(wanted: Change) {
    foresee(wanted)
    return inTurn((from) => api.arrange(setupId.value, wanted, from))
  }

  return {
    ladder, problem, path, phrases, bars, top, cellAt, phraseOf, together, load, want, change,
    undo: () => inTurn((from) => api.undo(setupId.value, from)),
    redo: () => inTurn((from) => api.redo(setupId.value, from)),
    changeProblem, remarks, said,
  }
}
