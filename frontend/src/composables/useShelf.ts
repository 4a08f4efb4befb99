import { watchDebounced } from '@vueuse/core'
import { computed, reactive, ref, shallowRef } from 'vue'

import { api, type Kind, type Shelf, type ShelfRow } from '@/api/client'
import { useAsked } from './useAsked'

const PAGE = 100
/** What the shelf can be narrowed by, beside words. */
export type Narrowing = 'tag' | 'key' | 'metre' | 'instrument'

/** The shelf as it is looked through: words, what it is narrowed by, order; rows come a page at a time. */
export function useShelf() {
  const asked = useAsked<Shelf>()
  const wanted = reactive({ find: '', tag: '', key: '', metre: '', instrument: '', archived: false, sort: 'opened', descending: true })
  const rows = shallowRef<ShelfRow[]>([])
  const gone = ref<ShelfRow | null>(null)
  const total = computed(() => asked.answer.value?.total ?? 0)
  const kinds = computed<Record<Narrowing, Kind[]>>(() => ({
    key: asked.answer.value?.keys ?? [],
    metre: asked.answer.value?.metres ?? [],
    instrument: asked.answer.value?.instruments ?? [],
    tag: asked.answer.value?.tags ?? [],
  }))
  const narrowed = computed(() => Boolean(wanted.find || wanted.tag || wanted.key || wanted.metre || wanted.instrument))

  async function ask(limit: number) {
    const page = await asked.ask(() => api.shelf({ ...wanted, offset: 0, limit }))
    if (page) rows.value = page.tunes
  }
  /** As many as were seen, so that a change far down the list does not lose the place. */
  const load = () => ask(Math.min(500, Math.max(PAGE, rows.value.length)))

  async function more() {
    if (asked.busy.value || rows.value.length >= total.value) return
    const page = await asked.ask(() => api.shelf({ ...wanted, offset: rows.value.length, limit: PAGE }))
    if (page) rows.value = [...rows.value, ...page.tunes]
  }

  function sortBy(column: string) {
    wanted.descending = wanted.sort === column ? !wanted.descending : column === 'opened'
    wanted.sort = column
  }

  const widen = () => Object.assign(wanted, { find: '', tag: '', key: '', metre: '', instrument: '' })

  async function takeOff(row: ShelfRow) {
    await api.takeOff(row.id)
    gone.value = row
    await load()
  }

  async function bringBack() {
    if (!gone.value) return
    await api.restore(gone.value.id)
    gone.value = null
    await load()
  }

  watchDebounced(wanted, () => ask(PAGE), { debounce: 60 })

  return { wanted, rows, total, kinds, narrowed, gone, problem: asked.problem, answer: asked.answer, load, more, sortBy, widen, takeOff, bringBack }
}
