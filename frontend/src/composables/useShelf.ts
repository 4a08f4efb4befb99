import { watchDebounced } from '@vueuse/core'
import { computed, reactive, ref, shallowRef } from 'vue'

import { api, type Shelf, type ShelfRow } from '@/api/client'
import { useAsked } from './useAsked'

const PAGE = 100

/** The shelf as it is looked through: words, tag, order; rows come a page at a time. */
export function useShelf() {
  const asked = useAsked<Shelf>()
  const wanted = reactive({ find: '', tag: '', archived: false, sort: 'title', descending: false })
  const rows = shallowRef<ShelfRow[]>([])
  const gone = ref<ShelfRow | null>(null)
  const total = computed(() => asked.answer.value?.total ?? 0)
  const tags = computed(() => asked.answer.value?.tags ?? [])

  async function load() {
    const page = await asked.ask(() => api.shelf({ ...wanted, offset: 0, limit: PAGE }))
    if (page) rows.value = page.tunes
  }

  async function more() {
    if (asked.busy.value || rows.value.length >= total.value) return
    const page = await asked.ask(() => api.shelf({ ...wanted, offset: rows.value.length, limit: PAGE }))
    if (page) rows.value = [...rows.value, ...page.tunes]
  }

  function sortBy(column: string) {
    wanted.descending = wanted.sort === column && !wanted.descending
    wanted.sort = column
  }

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

  watchDebounced(wanted, load, { debounce: 60 })

  return { wanted, rows, total, tags, gone, problem: asked.problem, answer: asked.answer, load, more, sortBy, takeOff, bringBack }
}
