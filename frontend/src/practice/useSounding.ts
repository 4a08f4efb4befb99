import { tryOnScopeDispose, useStorage } from '@vueuse/core'
import { computed, ref, shallowRef, watch, type Ref } from 'vue'

import type { Room, Score } from '@/api/types'
import { makeEngine, type Engine } from './engine'
import { placeAt, programmeOf, type Channel, type Loop } from './programme'
import type { Rounds } from './rounds'
import { wavOf } from './wav'

/** Slowest and fastest, in percent of the tune's tempo. */
export const PERCENT = { slowest: 30, fastest: 150, step: 5 }
/** The four faders, as they are named. */
export const FADERS = [
  ['melody', 'Melody'],
  ['others', 'Other notes'],
  ['company', 'Backing'],
  ['count', 'Click'],
] as const satisfies readonly (readonly [Channel, string])[]
export type Fader = (typeof FADERS)[number][0]

export interface Mix {
  level: Record<Fader, number>
  on: Record<Fader, boolean>
  company: string
  swing: number
  countIn: Rounds['countIn']
}

const USUAL: Mix = {
  level: { melody: 90, others: 80, company: 60, count: 50 },
  on: { melody: true, others: true, company: false, count: false },
  company: '',
  swing: 0,
  countIn: 'first',
}
/** A fader's place as loudness: even to the ear. */
const loudness = (level: number) => (level / 100) ** 2

/** What is heard: a programme on the audio clock, its tempo and mix, and where it is just now. */
export function useSounding(room: Ref<Room>, score: Ref<Score>, loop: Ref<Loop>) {
  const playing = ref(false)
  const percent = ref(100)
  const again = ref(true)
  const loaded = ref<[number, number]>([0, 0])
  const ready = ref(false)
  const missing = ref(0)
  const writing = ref(false)
  const heard = shallowRef<{ bar: number; time: number; silent: boolean } | null>(null)
  const played = ref(0)
  const mix = useStorage<Mix>('nailhead-mix', USUAL, undefined, { mergeDefaults: true })
  let engine: Engine | null = null
  let frame = 0
  let last = 0

  const company = computed(() => (room.value.companies.includes(mix.value.company) ? mix.value.company : (room.value.companies[0] ?? '')))
  const wholeSeconds = computed(() => (room.value.whole_s * 100) / percent.value)
  const manner = computed(() => ({ percent: percent.value, wholeSeconds: wholeSeconds.value, swing: mix.value.swing, company: company.value }))
  const programme = computed(() => programmeOf(score.value, loop.value, manner.value))
  const rounds = computed<Rounds>(() => ({ countIn: mix.value.countIn, again: again.value }))
  const levels = computed(() => ({ ...Object.fromEntries(FADERS.map(([name]) => [name, mix.value.on[name] ? loudness(mix.value.level[name]) : 0])), before: 0.4 }))

  function bench(): Engine {
    if (!engine) {
      engine = makeEngine()
      engine.onEnd(stop)
      engine.tempo(wholeSeconds.value)
      for (const [channel, loud] of Object.entries(levels.value)) engine.level(channel as Channel, loud)
    }
    return engine
  }

  /** Gets every sound of the room, the tune's first; those that are there already are not asked for again. */
  async function load() {
    const heard = new Set(room.value.score.bars.flatMap((bar) => bar.takes.flatMap((take) => take.heard.map((one) => one.voice))))
    const [first, later] = [room.value.voices.filter((one) => heard.has(one.name)), room.value.voices.filter((one) => !heard.has(one.name))]
    const failed = await bench().load(first, (done, all) => (loaded.value = [done, all]))
    ready.value = true
    missing.value = failed.length + (await bench().load(later, () => {})).length
  }

  function play() {
    bench().play(programme.value, rounds.value)
    playing.value = true
    last = performance.now()
    cancelAnimationFrame(frame)
    follow()
  }

  function stop() {
    cancelAnimationFrame(frame)
    engine?.stop()
    playing.value = false
    heard.value = null
  }

  function follow() {
    const now = performance.now()
    played.value += (now - last) / 1000
    last = now
    const at = engine?.position() ?? null
    const place = at === null ? null : placeAt(programme.value, at)
    heard.value = place ? { bar: place.passage.span.bar, time: place.time, silent: place.passage.span.silent ?? false } : null
    frame = requestAnimationFrame(follow)
  }

  /** The rounds that are heard, as a sound file to play along with. */
  async function write(count: number): Promise<Blob> {
    writing.value = true
    try {
      return wavOf(await bench().render(programme.value, rounds.value, count, wholeSeconds.value))
    } finally {
      writing.value = false
    }
  }

  const setPercent = (wanted: number) => void (percent.value = Math.max(PERCENT.slowest, Math.min(PERCENT.fastest, Math.round(wanted))))
  const toggle = () => (playing.value ? stop() : play())
  const mute = (name: Fader) => void (mix.value.on[name] = !mix.value.on[name])

  watch(wholeSeconds, (now) => engine?.tempo(now))
  watch(levels, (now) => Object.entries(now).forEach(([channel, loud]) => engine?.level(channel as Channel, loud)))
  // Another stretch begins anew; another tempo, company or swing goes on where it is.
  watch(() => JSON.stringify(loop.value), () => playing.value && play())
  watch([manner, rounds], () => playing.value && engine?.goOn(programme.value, rounds.value), { flush: 'sync' })
  watch(room, () => void load())
  tryOnScopeDispose(() => (stop(), void engine?.close()))

  return { playing, percent, again, mix, company, loaded, ready, missing, heard, played, writing, load, play, stop, toggle, setPercent, mute, write }
}
