import type { Context } from 'tone/build/esm/core/context/Context.js'

import { CHANNELS, type Channel, type Programme, type Strike } from './programme'

/** The transport's ticks in a whole note. */
export const TICKS = 4 * 192
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

  function strike(one: Strike, time: number, wholeSeconds: number) {
    const buffer = voices.get(one.voice)
    if (!buffer) return
    const at = Math.max(context.currentTime, time + one.late)
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
    source.onended = () => gain.disconnect()
    ringing.set(one.string, { gain, source, loud: one.loud, end })
  }

  /** Puts a programme on the context's transport, in place of what was there. */
  function schedule(programme: Programme) {
    const { transport } = context
    transport.cancel(0)
    for (const one of programme.strikes)
      transport.schedule((time) => strike(one, time, 240 / transport.bpm.value), `${one.at * TICKS}i`)
  }

  const silence = () => [...ringing.keys()].forEach((string) => stopString(string, context.currentTime))
  const level = (channel: Channel, loud: number) => buses.get(channel)!.gain.setTargetAtTime(MASTER * loud, context.currentTime, 0.01)
  return { schedule, silence, level }
}

/** Quarter notes a minute where a whole note lasts so many seconds. */
export const bpmOf = (wholeSeconds: number) => 240 / wholeSeconds
