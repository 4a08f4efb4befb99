import { computed, reactive, ref, type Ref } from 'vue'

import { api, Refused, type Problem, type ShelfRow } from '@/api/client'
import { useAsked } from './useAsked'

/** Several tunes of the shelf at once: which are ticked, and what is done with all of them. */
export function useSeveral(rows: Ref<ShelfRow[]>, reload: () => Promise<void>) {
  const ticked = reactive(new Set<number>())
  const asked = useAsked<boolean>()
  /** How far it has come with them, and what was refused. */
  const done = ref(0)
  const total = ref(0)
  const refused = ref<{ title: string; problem: Problem }[]>([])
  const busy = computed(() => done.value < total.value)

  function tick(id: number) {
    if (!ticked.delete(id)) ticked.add(id)
  }
  function tickAll(on: boolean) {
    for (const row of rows.value) if (on) ticked.add(row.id)
      else ticked.delete(row.id)
  }
  const titleOf = (id: number) => rows.value.find((row) => row.id === id)?.title ?? `Tune ${id}`

  /** One after the other, so that what cannot be done with one does not stop the rest. */
  async function each(work: (id: number) => Promise<unknown>) {
    const ids = [...ticked]
    refused.value = []
    ;[done.value, total.value] = [0, ids.length]
    for (const id of ids) {
      try {
        await work(id)
      } catch (error) {
        if (!(error instanceof Refused)) throw error
        refused.value = [...refused.value, { title: titleOf(id), problem: error.problem }]
      }
      done.value += 1
    }
    await reload()
  }

  const tag = (name: string, given: boolean) =>
    asked.ask(async () => {
      await api.tagSeveral([...ticked], name, given)
      await reload()
      return true
    })
  const archive = async (archived: boolean) => {
    await each((id) => api.setArchived(id, archived))
    ticked.clear()
  }
  /** Each as the planner would set it up first. */
  const arrange = (instrument: string, idiom: string) =>
    each(async (id) => {
      const { tuning, capo, fifth, sounding_tonic: key } = await api.trySetup(id, { instrument, idiom, tuning: null, capo: null, fifth: null, key: null })
      await api.keepSetup(id, { instrument, idiom, tuning, capo, fifth, key })
    })

  return { ticked, problem: asked.problem, busy, done, total, refused, tick, tickAll, tag, archive, arrange }
}
