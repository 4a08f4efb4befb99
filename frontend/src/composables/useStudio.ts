import { computed, ref, shallowRef } from 'vue'

import { api, type BroughtBackStudio, type Holdings, type Studio } from '@/api/client'
import { useAsked } from './useAsked'

/** A copy that has been looked into: a file of the teacher's, or one that was made by itself. */
export interface LookedInto {
  name: string
  holdings: Holdings
  bringBack: () => Promise<BroughtBackStudio>
}

/** The studio in one file: what is in it, what is in a copy, and bringing one back once it has been seen. */
export function useStudio() {
  const { answer: studio, problem: studioProblem, ask: askStudio } = useAsked<Studio>()
  const { problem: lookProblem, busy: looking, ask: askLook } = useAsked<Holdings>()
  const { problem: backProblem, busy: bringing, ask: askBack } = useAsked<BroughtBackStudio>()
  const copy = shallowRef<LookedInto | null>(null)
  const brought = ref<BroughtBackStudio | null>(null)

  const load = () => askStudio(() => api.studio())
  async function look(name: string, holdings: () => Promise<Holdings>, bringBack: () => Promise<BroughtBackStudio>) {
    copy.value = brought.value = null
    const found = await askLook(holdings)
    if (found) copy.value = { name, holdings: found, bringBack }
  }
  const lookIntoFile = (file: File) =>
    look(file.name, () => api.lookIntoCopy(file), () => api.bringBackCopy(file))
  const lookIntoKept = (name: string) =>
    look(name, () => api.lookIntoKept(name), () => api.bringBackKept(name))

  async function bringBack() {
    if (!copy.value) return
    const back = await askBack(copy.value.bringBack)
    if (!back) return
    brought.value = back
    copy.value = null
    await load()
  }
  const forget = () => {
    copy.value = null
    lookProblem.value = backProblem.value = null
  }
  return {
    studio,
    problem: computed(() => backProblem.value ?? lookProblem.value ?? studioProblem.value),
    busy: computed(() => looking.value || bringing.value),
    copy,
    brought,
    load,
    lookIntoFile,
    lookIntoKept,
    bringBack,
    forget,
  }
}

const some = (count: number, one: string) => `${count} ${one}${count === 1 ? '' : 's'}`

/** What is in a data file, in words. */
export function inWords(held: Holdings): string {
  const parts = [some(held.tunes, 'tune') + (held.archived ? ` (${held.archived} in the archive)` : ''), some(held.arrangements, 'arrangement')]
  if (held.instruments) parts.push(some(held.instruments, 'instrument') + ' of your own')
  if (held.tunings) parts.push(some(held.tunings, 'tuning') + ' of your own')
  const last = parts.pop()!
  return `${parts.join(', ')} and ${last}`
}
