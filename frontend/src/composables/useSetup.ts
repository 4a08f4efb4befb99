import { useDebounceFn, watchDebounced } from '@vueuse/core'
import { computed, reactive, shallowRef, watch, type Ref } from 'vue'

import { api, type Instrument, type LastUsed, type Neck, type SetupAnswer, type SetupWish } from '@/api/client'
import { useAsked } from './useAsked'

/** The choice that leaves it to Nailhead; selects show nothing for null. */
export const LEFT_OPEN = 'open'
const decided = (choice: string) => (choice === LEFT_OPEN ? null : choice)
const OPEN = { tuning: LEFT_OPEN, capo: LEFT_OPEN, fifth: LEFT_OPEN, key: LEFT_OPEN }
export type Chosen = typeof OPEN & { instrument: string; idiom: string }

/** Just this setup, so that a later default cannot change it. */
export const wishOf = ({ instrument, idiom, tuning, capo, fifth, sounding_tonic: key }: SetupAnswer): SetupWish => ({ instrument, idiom, tuning, capo, fifth, key })

/**
 * The setup that is looked at: a way of the planner's that is picked, or one chosen by hand, and the neck to it.
 */
export function useSetup(tuneId: Ref<number>) {
  const instruments = useAsked<Instrument[]>()
  const tried = useAsked<SetupAnswer>()
  const neck = useAsked<Neck>()
  const last = useAsked<LastUsed>()
  const chosen = reactive<Chosen>({ ...OPEN, instrument: '', idiom: '' })
  const picked = shallowRef<SetupAnswer | null>(null)
  /** She has decided since it was last asked what may be: what comes late does not decide for her. */
  let hers = false
  /** Counts what was decided: an answer to an older decision is none any more. */
  let turn = 0
  const instrument = computed(() => instruments.answer.value?.find((one) => one.id === chosen.instrument))

  /** Another instrument or another way of playing: nothing stays decided that belongs to the last one. */
  function take(id: string, idiom?: string) {
    // The one that is there already, chosen once more in its list, is no decision.
    if (id === chosen.instrument && (idiom ?? chosen.idiom) === chosen.idiom) return
    const row = instruments.answer.value?.find((one) => one.id === id)
    picked.value = null
    hers = false
    turn += 1
    tried.problem.value = null
    Object.assign(chosen, { ...OPEN, instrument: id, idiom: idiom ?? row?.idioms[0]?.id ?? '' })
  }

  /** A way to play that she picks from the planner's. */
  function adopt(answer: SetupAnswer) {
    hers = true
    turn += 1
    const { tuning, capo, fifth, sounding_tonic: key } = answer
    Object.assign(chosen, { tuning, capo: String(capo), fifth: fifth ?? LEFT_OPEN, key })
    tried.problem.value = null
    picked.value = answer
  }

  /** The planner's first way, unless she was quicker. */
  function propose(answer: SetupAnswer) {
    if (hers) return
    adopt(answer)
    hers = false
  }

  /** Something else is wanted of the ways: the next first one may be proposed again. A key holds by hand at once. */
  function askAnew(key?: string) {
    hers = false
    if (key !== undefined) chosen.key = key && key !== 'any' ? key : LEFT_OPEN
  }

  const retry = useDebounceFn(async () => {
    const wish: SetupWish = {
      instrument: chosen.instrument,
      idiom: chosen.idiom,
      tuning: decided(chosen.tuning),
      capo: decided(chosen.capo) === null ? null : Number(chosen.capo),
      fifth: decided(chosen.fifth),
      key: decided(chosen.key),
    }
    const mine = turn
    const answer = await tried.ask(() => api.trySetup(tuneId.value, wish))
    if (answer && mine === turn) picked.value = answer
  }, 60)

  /** Something chosen by hand; the fifth string follows anything but itself. */
  function change(field: 'tuning' | 'capo' | 'fifth', value: string) {
    hers = true
    turn += 1
    Object.assign(chosen, field === 'fifth' ? {} : { fifth: LEFT_OPEN }, { [field]: value })
    void retry()
  }

  /** Begins with what is given, as the tune was set up last, else with what was used last for any. */
  async function begin(own?: { instrument: string; idiom: string }) {
    const all = await instruments.ask(api.instruments)
    const used = own ?? (await last.ask(api.last))
    if (used) take(used.instrument, used.idiom)
    else if (all?.[0]) take(all[0].id)
  }

  watch(picked, (answer) => {
    if (answer) void neck.ask(() => api.neck(tuneId.value, wishOf(answer)))
  })

  // What is looked at for a while is likely kept: its ladder is worked out meanwhile.
  watchDebounced(picked, (answer) => answer && api.ahead(tuneId.value, wishOf(answer)), { debounce: 250 })

  return { chosen, instruments: instruments.answer, instrument, picked, problem: tried.problem, neck: neck.answer, begin, take, adopt, propose, askAnew, change }
}
