import { shallowRef } from 'vue'
import { useRouter } from 'vue-router'

import { api, type BroughtBack } from '@/api/client'
import { useAsked } from './useAsked'

/** An arrangement out of a file: to its ladder at once, or first to what is to be said of it. */
export function useBringBack() {
  const router = useRouter()
  const { problem, busy, ask } = useAsked<BroughtBack>()
  const brought = shallowRef<BroughtBack | null>(null)

  async function bringBack(file: File) {
    brought.value = null
    const back = await ask(async () => api.bringBack(await contents(file)))
    if (!back) return
    if (back.notices.length) brought.value = back
    else await router.push({ name: 'ladder', params: { setupId: back.setup } })
  }
  const forget = () => (brought.value = problem.value = null)
  return { problem, busy, brought, bringBack, forget }
}

/** The text of a file; a packed score as base 64. */
async function contents(file: File) {
  const start = new Uint8Array(await file.slice(0, 2).arrayBuffer())
  if (start[0] !== 0x50 || start[1] !== 0x4b) return { text: await file.text() }
  const address = await new Promise<string>((resolve, reject) => {
    const reader = new FileReader()
    reader.onload = () => resolve(reader.result as string)
    reader.onerror = () => reject(reader.error)
    reader.readAsDataURL(file)
  })
  return { packed: address.slice(address.indexOf(',') + 1) }
}
