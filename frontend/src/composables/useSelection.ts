import { computed, ref, type Ref } from 'vue'

/** The selected cell, and the stretch of bars that goes with it. */
export function useSelection(count: Ref<number>, rungs: Ref<number>) {
  const place = ref(0)
  const rung = ref(1)
  /** Where the stretch began; it ends at the selected bar. */
  const anchor = ref(0)

  const within = (value: number, low: number, high: number) => Math.max(low, Math.min(high, value))

  const stretch = computed(() => {
    const [low, high] = [Math.min(anchor.value, place.value), Math.max(anchor.value, place.value)]
    return Array.from({ length: high - low + 1 }, (_, at) => low + at)
  })

  function select(newPlace: number, newRung: number, extend = false) {
    place.value = within(newPlace, 0, count.value - 1)
    rung.value = within(newRung, 1, rungs.value)
    if (!extend) anchor.value = place.value
  }

  return { place, rung, stretch, select }
}
