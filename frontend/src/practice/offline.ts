import { OfflineContext } from 'tone/build/esm/core/context/OfflineContext.js'

/** Samples that are computed at a time (Web Audio 1.1, 1.1.6). */
const BLOCK = 128
/** Seconds after which the next strings are laid out, and how far ahead they are. */
const STEP = 1
const AHEAD = 0.5

/**
 * Renders faster than it is heard, laying out strings second by second: a graph that holds them all from the start takes
 * time with the square of their number. A browser that cannot pause such a rendering gets them all at once.
 */
export class SteppedContext extends OfflineContext {
  constructor(
    private readonly raw: OfflineAudioContext,
    private readonly tidy: (before: number) => void = () => {},
  ) {
    super(raw)
  }

  async renderStepped(): Promise<AudioBuffer> {
    const seconds = this.raw.length / this.raw.sampleRate
    const stepped = 'suspend' in this.raw
    this.advance(stepped ? STEP + AHEAD : seconds)
    for (let at = STEP; stepped && at < seconds; at += STEP)
      void this.raw.suspend(at).then(() => {
        this.tidy(at)
        this.advance(Math.min(seconds, at + STEP + AHEAD))
        return this.raw.resume()
      })
    return this.raw.startRendering()
  }

  /** Runs the library's clock, and no sound yet. */
  private advance(to: number) {
    while (this['_currentTime'] < to) {
      this.emit('tick')
      this['_currentTime'] += BLOCK / this.sampleRate
    }
  }
}
