import { tryOnScopeDispose } from '@vueuse/core'
import { ref, watch, type Ref } from 'vue'

import { api, type Ladder, type PathState, type Problem, type Timeline } from '@/api/client'

/** How the path is played: beats a minute, 0 (even) to 1 (as in a triplet), beats of count-in. */
export interface PlayerSettings {
  tempo: number
  swing: number
  countIn: number
}

/** Plays the path, or one cell, as the server has rendered it; tells which bar is heard. */
export function usePlayer(setupId: Ref<number>, ladder: Ref<Ladder | null>, path: Ref<PathState | null>) {
  const playing = ref(false)
  const problem = ref<Problem | null>(null)
  const heard = ref<{ place: number; time: number } | null>(null)
  const settings = ref<PlayerSettings>({ tempo: 0, swing: 0, countIn: 0 })
  let audio: HTMLAudioElement | null = null
  let frame = 0

  function stop() {
    cancelAnimationFrame(frame)
    audio?.pause()
    audio = null
    playing.value = false
    heard.value = null
  }

  /** A sound that was stopped by hand, or by the next one, has not failed. */
  function fail(sound: HTMLAudioElement) {
    if (sound !== audio) return
    stop()
    problem.value = { title: 'No sound', status: 599, detail: 'The sound could not be loaded.', remedy: 'Play it again.' }
  }

  async function start(address: string) {
    stop()
    const sound = new Audio(address)
    audio = sound
    playing.value = true
    problem.value = null
    sound.onended = stop
    sound.onerror = () => fail(sound)
    await sound.play().catch(() => fail(sound))
    return sound === audio ? sound : null
  }

  async function play(from: number) {
    const wanted = { start: from, tempo: settings.value.tempo, swing: settings.value.swing, count_in: settings.value.countIn }
    const when = api.timeline(setupId.value, wanted)
    const sound = await start(api.soundAddress(setupId.value, wanted, path.value?.revision ?? 0))
    if (sound) follow(sound, await when)
  }

  function follow(sound: HTMLAudioElement, timeline: Timeline) {
    const step = () => {
      if (sound !== audio) return
      heard.value = timeline.bars.findLast((bar) => bar.at <= sound.currentTime + 0.02) ?? null
      if (sound.currentTime > timeline.seconds) stop()
      else frame = requestAnimationFrame(step)
    }
    step()
  }

  const hear = (place: number, rung: number) =>
    void start(api.cellSoundAddress(setupId.value, place, rung, settings.value.tempo, path.value?.revision ?? 0))

  watch(ladder, (now) => {
    if (now && !settings.value.tempo) settings.value = { ...settings.value, tempo: now.tempo }
  })
  tryOnScopeDispose(stop)
  return { playing, heard, settings, problem, play, hear, stop }
}
