import type { Context } from 'tone/build/esm/core/context/Context.js'

import { CHANNELS, type Channel, type Strike } from './programme'

/** Loudest single voice; many sound together. */
const MASTER = 0.6
/** Seconds in which a string that is stopped fades. */
const FADE = 0.006
/** Seconds in which a string is pushed up. */
const BENT = 0.15

export type Voices = ReadonlyMap<string, AudioBuffer>
export type Levels = Record<Channel, number>

interface Ringing {
  gain: GainNode
  source: AudioBufferSourceNode
  loud: number
  end: number
}

/** Where a programme sounds: a bus for each channel, every string by itself, on the clock of an audio context. */
export function makeRig(context: Context, voices: Voices, levels: Levels) {
  const buses = new Map(CHANNELS.map((channel) => [channel, context.createGain()]))
  const ringing = new Map<string, Ringing>()
  const sounding = new Set<Ringing>()
  for (const [channel, bus] of buses) {
    bus.gain.value = MASTER * levels[channel]
    bus.connect(context.rawContext.destination as AudioNode)
  }

  function stopString(string: string, at: number) {
    const before = ringing.get(string)
    ringing.delete(string)
    if (!before || before.end <= at) return
    before.gain.gain.cancelScheduledValues(at)
    before.gain.gain.setValueAtTime(before.loud, at)
    before.gain.gain.linearRampToValueAtTime(0, at + FADE)
    before.source.stop(at + FADE)
  }

  function drop(voice: Ringing) {
    voice.gain.disconnect()
    sounding.delete(voice)
  }

  /** Lets go of what has ended before a moment, where the browser does not say so in time. */
  const tidy = (before: number) => sounding.forEach((voice) => voice.end < before && drop(voice))

  function strike(one: Strike, time: number, wholeSeconds: number) {
    const buffer = voices.get(one.voice)
    if (!buffer) return
    const at = Math.max(context.rawContext.currentTime, time + one.late)
    const seconds = Math.min(one.seconds, one.length * wholeSeconds, buffer.duration)
    stopString(one.string, at)
    const source = context.createBufferSource()
    const gain = context.createGain()
    source.buffer = buffer
    if (one.bend) {
      source.playbackRate.setValueAtTime(1, at)
      source.playbackRate.linearRampToValueAtTime(2 ** (one.bend / 1200), at + BENT)
    }
    gain.gain.setValueAtTime(one.loud, at)
    source.connect(gain).connect(buses.get(one.channel)!)
    source.start(at)
    const end = at + seconds
    if (seconds < buffer.duration) {
      gain.gain.setValueAtTime(one.loud, Math.max(at, end - FADE))
      gain.gain.linearRampToValueAtTime(0, end)
      source.stop(end)
    }
    const voice = { gain, source, loud: one.loud, end }
    source.onended = () => drop(voice)
    ringing.set(one.string, voice)
    sounding.add(voice)
  }

  const silence = () => [...ringing.keys()].forEach((string) => stopString(string, context.currentTime))
  const level = (channel: Channel, loud: number) => buses.get(channel)!.gain.setTargetAtTime(MASTER * loud, context.currentTime, 0.01)
  return { strike, silence, level, tidy }
}

/** Quarter notes a minute where a whole note lasts so many seconds. */
export const bpmOf = (wholeSeconds: number) => 240 / wholeSeconds
