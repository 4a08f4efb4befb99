import { useIntervalFn } from '@vueuse/core'
import { computed } from 'vue'

import { api, type Packet, type PacketWish } from '@/api/client'
import { useAsked } from './useAsked'

const LOOK_MS = 300

/** A packet of sheets under way: started, watched until it is ready, cancelled. */
export function usePacket() {
  const { answer: packet, problem, ask } = useAsked<Packet>()
  const working = computed(() => packet.value?.state === 'working')

  const watch = useIntervalFn(
    async () => {
      if (packet.value) await ask(() => api.packet(packet.value!.number))
      if (!working.value || problem.value) watch.pause()
    },
    LOOK_MS,
    { immediate: false },
  )

  async function start(wish: PacketWish) {
    if (await ask(() => api.startPacket(wish))) watch.resume()
  }

  async function cancel() {
    watch.pause()
    if (packet.value) await api.cancelPacket(packet.value.number)
    packet.value = null
  }

  return { packet, problem, working, start, cancel }
}
