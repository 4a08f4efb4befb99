import { tryOnScopeDispose } from '@vueuse/core'
import { ref } from 'vue'

import type { Sound } from '@/api/client'

/** Loud enough to hear, soft enough for headphones. */
const LEVEL = 0.22

/** Plays sounds that the server has worked out: when, how long, how high. Tells which one is heard. */
export function useListen() {
  const heard = ref<Sound | null>(null)
  const playing = ref(false)
  let context: AudioContext | null = null
  let frame = 0

  function stop() {
    cancelAnimationFrame(frame)
    void context?.close()
    context = null
    playing.value = false
    heard.value = null
  }

  function play(sounds: Sound[], from = 0) {
    stop()
    const first = sounds.find((sound) => sound.end > from) ?? sounds[0]
    if (!first) return
    const line = sounds.slice(sounds.indexOf(first))
    const running = new AudioContext()
    context = running
    playing.value = true
    const start = running.currentTime + 0.08 - first.at
    for (const sound of line) pluck(running, sound.hertz, start + sound.at, sound.length)
    const last = line[line.length - 1]!
    const follow = () => {
      const now = running.currentTime - start
      heard.value = line.findLast((sound) => sound.at <= now) ?? null
      if (now > last.at + last.length + 0.2) stop()
      else frame = requestAnimationFrame(follow)
    }
    frame = requestAnimationFrame(follow)
  }

  tryOnScopeDispose(stop)
  return { heard, playing, play, stop }
}

/** A plain plucked tone: a quick start, then dying away. */
function pluck(context: AudioContext, hertz: number, at: number, length: number) {
  const tone = new OscillatorNode(context, { type: 'triangle', frequency: hertz })
  const gain = new GainNode(context, { gain: 0 })
  const end = at + Math.max(0.12, length)
  gain.gain.setValueAtTime(0, at)
  gain.gain.linearRampToValueAtTime(LEVEL, at + 0.008)
  gain.gain.exponentialRampToValueAtTime(LEVEL / 12, end)
  gain.gain.linearRampToValueAtTime(0, end + 0.03)
  tone.connect(gain).connect(context.destination)
  tone.start(at)
  tone.stop(end + 0.04)
}
