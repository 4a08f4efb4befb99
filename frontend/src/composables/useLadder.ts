import { computed, ref, type Ref } from 'vue'

import { api, type Cell, type Column, type Ladder } from '@/api/client'
import { useAsked } from './useAsked'

/** The ladder of a setup: loading it, the selected cell, and changes of the path. */
export function useLadder(setupId: Ref<number>) {
  const { answer: ladder, problem, busy, ask } = useAsked<Ladder>()
  const changing = useAsked<Ladder['path']>()
  const path = ref<Ladder['path'] | null>(null)
  const place = ref(0)
  const rung = ref(1)
  let queue: Promise<unknown> = Promise.resolve()

  const columns = computed<Column[]>(() => ladder.value?.phrases.flatMap((phrase) => phrase.columns) ?? [])
  const column = computed(() => columns.value[place.value])
  const cell = computed<Cell | undefined>(() => column.value?.cells.find((one) => one.rung === rung.value))
  const equals = computed(() => columns.value.filter((one) => one.equal_to === column.value?.equal_to))

  async function load() {
    const loaded = await ask(() => api.ladder(setupId.value))
    if (!loaded) return
    path.value = loaded.path
    place.value = Math.min(place.value, columns.value.length - 1)
    rung.value = loaded.path.rungs[place.value] ?? 1
  }

  function select(newPlace: number, newRung: number) {
    const rungs = ladder.value?.rungs.length ?? 1
    place.value = Math.max(0, Math.min(columns.value.length - 1, newPlace))
    rung.value = Math.max(1, Math.min(rungs, newRung))
  }

  /** Changes go one after the other: each needs the revision the last one gave. */
  function put(newPlace: number | null, newRung: number) {
    queue = queue.then(async () => {
      if (!path.value) return
      const change = { place: newPlace, rung: newRung, revision: path.value.revision }
      const changed = await changing.ask(() => api.changePath(setupId.value, change))
      if (changed) path.value = changed
    })
    return queue
  }

  function take(newPlace = place.value, newRung = rung.value) {
    select(newPlace, newRung)
    return put(place.value, rung.value)
  }

  function raise(by: number) {
    const now = path.value?.rungs[place.value] ?? 1
    const next = Math.max(1, Math.min(ladder.value?.rungs.length ?? 1, now + by))
    return take(place.value, next)
  }

  return {
    ladder, problem, busy, path, place, rung, columns, column, cell, equals,
    changeProblem: changing.problem, load, select, take, raise, level: (to: number) => put(null, to),
  }
}
