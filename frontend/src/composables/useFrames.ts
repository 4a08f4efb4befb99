import { shallowRef, watch, type Ref } from 'vue'

import { api, Refused, type Ladder, type PathState, type Strip } from '@/api/client'

/** Without an answer there are none; the ladder itself says what is wrong. */
function none(error: unknown): Strip[] {
  if (!(error instanceof Refused)) throw error
  return []
}

/** Kick-off and ending, once the path has a solo bar; worked out anew with the ladder. */
export function useFrames(setupId: Ref<number>, ladder: Ref<Ladder | null>, path: Ref<PathState | null>) {
  const frames = shallowRef<Strip[]>([])
  watch(
    [ladder, () => path.value?.solo],
    async ([now, solo], _, onCleanup) => {
      let stale = false
      onCleanup(() => (stale = true))
      const found = now && solo ? await api.frames(setupId.value).catch(none) : []
      if (!stale) frames.value = found
    },
    { immediate: true },
  )
  return frames
}
