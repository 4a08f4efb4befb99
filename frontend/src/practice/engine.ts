// The clock alone: the library's own index makes a second audio context and prints to the console.
import 'tone/build/esm/core/clock/Transport.js'
import { Context } from 'tone/build/esm/core/context/Context.js'
import { setContext } from 'tone/build/esm/core/context/GlobalContext.js'
import { OfflineContext } from 'tone/build/esm/core/context/OfflineContext.js'

import type { Voice } from '@/api/types'
import type { Programme } from './programme'
import { bpmOf, makeRig, TICKS, type Levels } from './rig'

/** How a round is begun and whether it comes again. */
export interface Rounds {
  countIn: 'none' | 'first' | 'every'
  again: boolean
}

/** Seconds that are scheduled ahead: enough for a grace before its note, too short to be felt. */
const AHEAD = 0.075
/** Seconds that strings ring on behind a sound file's last round. */
const TAIL = 2.5

/** Plays programmes on the audio clock: tempo, levels and what is played change at once, and a loop has no gap. */
export function makeEngine() {
  const context = new Context({ lookAhead: AHEAD, updateInterval: 0.02, clockSource: 'timeout', latencyHint: 'interactive' })
  setContext(context)
  const voices = new Map<string, AudioBuffer>()
  const levels: Levels = { melody: 1, others: 1, company: 1, count: 1, before: 1 }
  const rig = makeRig(context, voices, levels)
  const { transport } = context
  let ended = () => {}
  let begun = 0

  /** Fetches what is not there yet, told one by one; what cannot be had is told at the end. */
  async function load(wanted: readonly Voice[], progress: (done: number, all: number) => void) {
    const missing = wanted.filter((voice) => !voices.has(voice.name))
    let done = wanted.length - missing.length
    progress(done, wanted.length)
    const failed = await Promise.all(
      missing.map(async (voice) => {
        try {
          const answer = await fetch(voice.address)
          if (!answer.ok) return voice
          voices.set(voice.name, await context.rawContext.decodeAudioData(await answer.arrayBuffer()))
          progress(++done, wanted.length)
          return null
        } catch {
          return voice
        }
      }),
    )
    return failed.filter((voice) => voice !== null)
  }

  function setRounds(on: { loop: boolean; loopStart: unknown; loopEnd: unknown }, programme: Programme, rounds: Rounds) {
    on.loop = rounds.again
    on.loopStart = `${Math.round((rounds.countIn === 'every' ? 0 : programme.round) * TICKS)}i`
    on.loopEnd = `${Math.round(programme.end * TICKS)}i`
  }

  function put(programme: Programme, rounds: Rounds) {
    rig.schedule(programme)
    setRounds(transport, programme, rounds)
    if (!rounds.again) transport.schedule(() => ended(), `${programme.end * TICKS}i`)
  }

  /** Plays from the beginning, or from a moment of the programme (whole notes). */
  function play(programme: Programme, rounds: Rounds, from?: number) {
    stop()
    void context.resume()
    put(programme, rounds)
    begun = context.now()
    const start = from ?? (rounds.countIn === 'none' ? programme.lead : 0)
    transport.start(begun, `${start * TICKS}i`)
  }

  function stop() {
    transport.stop()
    rig.silence()
  }

  /** Whole notes from the programme's beginning that are heard now; null when nothing is played. */
  function position(): number | null {
    if (transport.state !== 'started') return null
    return transport.getTicksAtTime(Math.max(begun, context.currentTime)) / TICKS
  }

  function level(channel: keyof Levels, loud: number) {
    levels[channel] = loud
    rig.level(channel, loud)
  }

  /** So many rounds of a programme as sound, faster than they are heard. */
  async function render(programme: Programme, rounds: Rounds, count: number, wholeSeconds: number): Promise<AudioBuffer> {
    const once = rounds.countIn === 'every' ? programme.end : programme.end - programme.round
    const start = rounds.countIn === 'none' ? programme.lead : 0
    const seconds = (programme.end - start + (count - 1) * once) * wholeSeconds
    const offline = new OfflineContext(1, seconds + TAIL, context.sampleRate)
    offline.transport.bpm.setValueAtTime(bpmOf(wholeSeconds), 0)
    makeRig(offline, voices, levels).schedule(programme)
    setRounds(offline.transport, programme, { ...rounds, again: count > 1 })
    offline.transport.start(0, `${start * TICKS}i`).stop(seconds)
    return (await offline.render()).get() as AudioBuffer
  }

  return {
    load,
    play,
    put,
    stop,
    position,
    level,
    render,
    tempo: (wholeSeconds: number) => void (transport.bpm.value = bpmOf(wholeSeconds)),
    onEnd: (told: () => void) => void (ended = told),
    close: () => (stop(), context.close()),
  }
}

export type Engine = ReturnType<typeof makeEngine>
