import { shallowRef, watch, type Ref } from 'vue'

import { api, type Ladder, type PathState, type Strip } from '@/api/client'

/** Kick-off and ending, once the path has a solo bar; worked out anew with the ladder. */
export function useFrames(setupId: Ref<number>, ladder: Ref<Ladder | null>, path: Ref<PathState | null>) {
  const frames = shallowRef<Strip[]>([])
  watch(
    [ladder, () => path.value?.solo],
    async ([now, solo], _, onCleanup) => {
      let stale = false
      onCleanup(() => (stale = true))
      const found = now && solo ? await api.frames(setupId.value) : []
      if (!stale) frames.value = found
    },
    { immediate: true },
  )
  return frames
}
