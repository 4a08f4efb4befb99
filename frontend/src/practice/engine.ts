import './quiet'

// The clock alone: the library's own index makes a second audio context and prints to the console.
import 'tone/build/esm/core/clock/Transport.js'
import { Context } from 'tone/build/esm/core/context/Context.js'
import { setContext } from 'tone/build/esm/core/context/GlobalContext.js'

import type { Voice } from '@/api/types'
import { SteppedContext } from './offline'
import type { Programme } from './programme'
import { bpmOf, makeRig, type Levels } from './rig'
import { againFrom, beginOf, makeRounds, type Rounds } from './rounds'

/** Seconds that are scheduled ahead: enough for a page that is busy drawing, too short to be felt. */
const AHEAD = 0.04
/** Seconds that strings ring on behind a sound file's last round. */
const TAIL = 2.5

/** Plays programmes on the audio clock: tempo, levels and what is played change at once, and a loop has no gap. */
export function makeEngine() {
  // The browser's own context: the library's stand-in for it takes minutes over a sound file.
  const context = new Context({ context: new AudioContext({ latencyHint: 'interactive' }), lookAhead: AHEAD, updateInterval: 0.02, clockSource: 'timeout' })
  setContext(context)
  const voices = new Map<string, AudioBuffer>()
  const levels: Levels = { melody: 1, others: 1, company: 1, count: 1, before: 1 }
  const rig = makeRig(context, voices, levels)
  const { transport } = context
  let ended = () => {}
  const rounds = makeRounds(context, rig.strike, () => ended())
  let begun = 0
  let turn = 0

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

  /** Plays a programme from its beginning. */
  function play(programme: Programme, how: Rounds) {
    stop()
    const mine = turn
    // A browser lets sound begin by a hand only, and the clock does not run before.
    void context.resume().then(() => {
      if (mine !== turn) return
      const start = rounds.begin(programme, how)
      begun = context.now()
      transport.start(begun, start)
    })
  }

  /** Other sounds at the same times: the programme goes on where it is. */
  const goOn = (programme: Programme, how: Rounds) => rounds.goOn(programme, how, context.now())

  function stop() {
    turn += 1
    transport.stop()
    transport.cancel(0)
    rig.silence()
  }

  /** Whole notes from the programme's beginning that are heard now; null when nothing is played. */
  function position(): number | null {
    if (transport.state !== 'started') return null
    return rounds.position(Math.max(begun, context.currentTime))
  }

  function level(channel: keyof Levels, loud: number) {
    levels[channel] = loud
    rig.level(channel, loud)
  }

  /** So many rounds of a programme as sound, faster than they are heard. */
  async function render(programme: Programme, how: Rounds, count: number, wholeSeconds: number): Promise<AudioBuffer> {
    const first = programme.end - beginOf(programme, how)
    const seconds = (first + (count - 1) * (programme.end - againFrom(programme, how))) * wholeSeconds
    const { sampleRate } = context
    const raw = new OfflineAudioContext(1, Math.ceil((seconds + TAIL) * sampleRate), sampleRate)
    const offline: SteppedContext = new SteppedContext(raw, (before) => apart.tidy(before))
    const apart = makeRig(offline, voices, levels)
    offline.transport.bpm.setValueAtTime(bpmOf(wholeSeconds), 0)
    const start = makeRounds(offline, apart.strike, () => {}).begin(programme, { ...how, again: count > 1 })
    offline.transport.start(0, start).stop(seconds)
    return offline.renderStepped()
  }

  return {
    load,
    play,
    goOn,
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
