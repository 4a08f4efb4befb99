import { computed, ref, shallowRef, type Ref } from 'vue'

import { api, Refused, type Change, type ChangeAnswer, type Ladder, type PathState, type Problem } from '@/api/client'
import { useAsked } from './useAsked'
import { useArrangementOrder } from './useInOrder'
import { usePhrases } from './usePhrases'

/** The ladder of an arrangement: its phrases as they are needed, and every change of it, one step each. */
export function useLadder(setupId: Ref<number>) {
  const { answer: ladder, problem, ask } = useAsked<Ladder>()
  const path = shallowRef<PathState | null>(null)
  const changeProblem = ref<Problem | null>(null)
  const remarks = ref<string[]>([])
  const said = ref('')
  const inOrder = useArrangementOrder(() => setupId.value)
  const { phrases, bars, cellAt, phraseOf, put, take, ...rows } = usePhrases(setupId)
  /** Changes that are not answered yet; until the last one is, what was foreseen is shown. */
  let pending = 0
  let revision = 0

  const top = computed(() => ladder.value?.rungs.length ?? 1)
  const together = (place: number) => {
    const groups = path.value?.groups ?? []
    return bars.value.filter((bar) => groups[bar.place] === groups[place]).map((bar) => bar.place)
  }

  const load = () => inOrder(reload)

  async function reload() {
    const loaded = await ask(() => api.ladder(setupId.value))
    if (!loaded) return
    path.value = loaded.path
    revision = loaded.path.revision
    put(loaded.phrases)
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
    if (answer.reload) await reload()
  }

  /** Each change needs the revision that the last one gave. */
  function inTurn(work: (revision: number) => Promise<ChangeAnswer>): Promise<boolean> {
    pending += 1
    return inOrder(async () => {
      try {
        const answer = await work(revision).finally(() => (pending -= 1))
        await settle(answer)
        return true
      } catch (error) {
        if (!(error instanceof Refused)) throw error
        // Undo pressed once too often is no trouble.
        if (error.problem.field !== 'step') changeProblem.value = error.problem
        await reload()
        return false
      }
    })
  }

  function change(wanted: Change) {
    foresee(wanted)
    return inTurn((from) => api.arrange(setupId.value, wanted, from))
  }

  return {
    ladder, problem, path, phrases, bars, top, cellAt, phraseOf, together, load, change,
    rowProblems: rows.problems, sight: rows.sight, want: rows.load, again: rows.again,
    undo: () => inTurn((from) => api.undo(setupId.value, from)),
    redo: () => inTurn((from) => api.redo(setupId.value, from)),
    changeProblem, remarks, said,
  }
}
