import { ref, shallowRef, watch, type Ref } from 'vue'

import { api, Refused, type Beside } from '@/api/client'

/** Another arrangement of the tune beside this one: its bars phrase by phrase, as they come into sight. */
export function useBeside(setupId: Ref<number>) {
  const other = ref<number | null>(null)
  const rows = shallowRef(new Map<number, Beside>())
  const asked = new Set<number>()

  async function want(phrase: number) {
    if (other.value === null || asked.has(phrase)) return
    asked.add(phrase)
    const mine = other.value
    const found = await api.beside(setupId.value, phrase, mine).catch((error: unknown) => {
      if (!(error instanceof Refused)) throw error
      asked.delete(phrase)
      return null
    })
    if (found && mine === other.value) rows.value = new Map(rows.value).set(phrase, found)
  }

  watch(other, () => {
    asked.clear()
    rows.value = new Map()
  })
  return { other, rows, want }
}
