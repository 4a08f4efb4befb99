import { computed, ref, shallowRef, type Ref } from 'vue'

import { api, type ChangeAnswer, type Ladder, type PathState } from '@/api/client'
import { changeWords } from '@/components/ladder/changeWords'
import { useArrangementQueue, type AnyChange } from './useArrangementQueue'
import { useAsked } from './useAsked'
import { usePhrases } from './usePhrases'

/** The ladder of an arrangement: its phrases as they are needed, and every change of it, one step each. */
export function useLadder(setupId: Ref<number>) {
  const { answer: ladder, problem, ask } = useAsked<Ladder>()
  const queue = useArrangementQueue(setupId.value)
  /** The path as the server has it. */
  const confirmed = shallowRef<PathState | null>(null)
  const remarks = ref<string[]>([])
  const said = ref('')
  const { phrases, bars, cellAt, phraseOf, put, take, ...rows } = usePhrases(setupId)

  const top = computed(() => ladder.value?.rungs.length ?? 1)
  /** The path as it will be when everything that waits is made; what fails leaves it by itself. */
  const path = computed(() => confirmed.value && queue.pending.value.reduce(foresee, confirmed.value))

  const togetherIn = (now: PathState | null, place: number) =>
    bars.value.filter((bar) => now?.groups[bar.place] === now?.groups[place]).map((bar) => bar.place)
  const together = (place: number) => togetherIn(path.value, place)

  async function load() {
    await queue.idle()
    await reload()
  }

  async function reload() {
    const before = queue.answers()
    const loaded = await ask(() => api.ladder(setupId.value))
    if (!loaded) return
    // A change that was answered meanwhile knows better.
    if (before !== queue.answers()) return reload()
    confirmed.value = loaded.path
    queue.standAt(loaded.path.revision)
    put(loaded.phrases)
  }
  queue.onFailure(reload)

  /** What a step of the path will give, shown before the server has answered. */
  function foresee(now: PathState, change: AnyChange): PathState {
    if (change.do !== 'rungs' && change.do !== 'raise' && change.do !== 'level') return now
    const row = change.do !== 'level' && change.second ? 'second' : 'rungs'
    const places = change.do === 'level' ? bars.value.map((bar) => bar.place) : change.places.flatMap((place) => togetherIn(now, place))
    const next = [...now[row]]
    for (const place of places) {
      if (now.locked.includes(place)) continue
      const wanted = change.do === 'raise' ? next[place]! + change.by : change.rung
      next[place] = Math.max(1, Math.min(top.value, wanted))
    }
    return { ...now, [row]: next }
  }

  function show(answer: ChangeAnswer) {
    confirmed.value = answer.path
    take(answer.phrases)
    remarks.value = answer.remarks
    said.value = answer.said
    if (answer.reload) void reload()
  }

  const change = (wanted: AnyChange) => queue.change(wanted, changeWords(wanted, bars.value), show)

  return {
    ladder, problem, path, phrases, bars, top, cellAt, phraseOf, together, load, change,
    rowProblems: rows.problems, sight: rows.sight, want: rows.load, again: rows.again,
    undo: () => change({ do: 'undo' }),
    redo: () => change({ do: 'redo' }),
    remarks, said,
  }
}
