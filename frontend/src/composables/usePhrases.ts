import { computed, shallowRef, type Ref } from 'vue'

import { api, Refused, type BarFrame, type Cell, type Column, type Phrase, type Problem } from '@/api/client'

const standAlike = (one: Phrase, other: Phrase) =>
  one.bars.length === other.bars.length && one.bars.every((bar, at) => bar.place === other.bars[at]?.place && bar.width === other.bars[at]?.width)

/**
 * The phrases of a ladder. They come with their notes when they are in sight; whatever answer takes the notes away, a
 * reload or a refusal, those in sight are asked for again here. One that fails says so and can be asked for again.
 */
export function usePhrases(setupId: Ref<number>) {
  const phrases = shallowRef<Phrase[]>([])
  const problems = shallowRef(new Map<number, Problem>())
  const inSight = new Set<number>()
  const loading = new Set<number>()
  /** Phrases that show the notes of an older ladder until their own have come. */
  const stale = new Set<number>()
  /** Goes up with every ladder; an answer for an older one is thrown away. */
  let ladder = 0
  /** How often a phrase came with a change: what was asked for before that is older than what is there. */
  const renewed = new Map<number, number>()

  const bars = computed<BarFrame[]>(() => phrases.value.flatMap((phrase) => phrase.bars))
  const columns = computed(() => {
    const known = new Map<number, Column>()
    for (const phrase of phrases.value) for (const column of phrase.columns ?? []) known.set(column.place, column)
    return known
  })
  const cellAt = (place: number, rung: number): Cell | undefined => columns.value.get(place)?.cells[rung - 1]
  const phraseOf = (place: number) => phrases.value.findIndex((phrase) => phrase.bars.some((bar) => bar.place === place))

  /** A whole ladder anew. Where its bars stand as before, the notes that were there stay until the new ones come. */
  function put(found: Phrase[]) {
    ladder += 1
    loading.clear()
    stale.clear()
    problems.value = new Map()
    phrases.value = found.map((phrase) => {
      const before = phrases.value[phrase.index]
      if (phrase.columns || !before?.columns || !standAlike(before, phrase)) return phrase
      stale.add(phrase.index)
      return { ...phrase, columns: before.columns }
    })
    fill()
  }

  /** Phrases that came with a change, in place of what they were. */
  function take(came: Phrase[]) {
    for (const phrase of came) renewed.set(phrase.index, (renewed.get(phrase.index) ?? 0) + 1)
    show(came)
  }

  function show(came: Phrase[]) {
    if (!came.length) return
    const next = [...phrases.value]
    for (const phrase of came) {
      next[phrase.index] = phrase
      if (phrase.columns) stale.delete(phrase.index)
    }
    phrases.value = next
  }

  function fill() {
    for (const index of inSight) void load(index)
  }

  /** A phrase comes into sight or leaves it. */
  function sight(index: number, there: boolean) {
    if (!there) inSight.delete(index)
    else inSight.add(index)
    if (there) void load(index)
  }

  async function load(index: number) {
    const phrase = phrases.value[index]
    if (!phrase || (phrase.columns && !stale.has(index)) || loading.has(index) || problems.value.has(index)) return
    const mine = ladder
    const before = renewed.get(index)
    loading.add(index)
    try {
      const found = await api.phrase(setupId.value, index)
      if (mine === ladder && before === renewed.get(index)) show([found])
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      if (mine === ladder) problems.value = new Map(problems.value).set(index, error.problem)
    } finally {
      if (mine === ladder) loading.delete(index)
    }
    if (mine === ladder && before !== renewed.get(index) && inSight.has(index)) await load(index)
  }

  /** Asks for a phrase that failed once more. */
  function again(index: number) {
    const left = new Map(problems.value)
    left.delete(index)
    problems.value = left
    return load(index)
  }

  return { phrases, problems, bars, cellAt, phraseOf, put, take, sight, load, again }
}
