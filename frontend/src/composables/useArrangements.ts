import { ref, watch, type Ref } from 'vue'
import { useRouter } from 'vue-router'

import { api, type ArrangementRow, type Ladder } from '@/api/client'
import { useAsked } from './useAsked'

/** The arrangements of a tune beside one another: going from one to the other, copying, naming. */
export function useArrangements(setupId: Ref<number>, ladder: Ref<Ladder | null>) {
  const { answer: rows, problem, ask } = useAsked<ArrangementRow[]>()
  const router = useRouter()
  const naming = ref(false)

  const load = () => ladder.value && ask(() => api.arrangements(ladder.value!.tune_id))
  const go = (id: number) => router.push({ name: 'ladder', params: { setupId: id } })

  async function copy(name: string) {
    const made = await ask(async () => {
      const kept = await api.copySetup(setupId.value, name)
      await go(kept.id)
      return rows.value ?? []
    })
    return made !== null
  }

  async function rename(name: string) {
    await ask(async () => {
      await api.nameSetup(setupId.value, name)
      return api.arrangements(ladder.value!.tune_id)
    })
    naming.value = false
  }

  watch(() => ladder.value?.tune_id, load)
  return { rows, problem, naming, go, copy, rename }
}
