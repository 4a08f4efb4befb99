import { computed, ref } from 'vue'

/** Milliseconds between two questions whether a server that did not answer is back. */
const ASK_EVERY = 2000

const isLost = ref(false)
let waiting: (() => void)[] = []
let timer: ReturnType<typeof setTimeout> | undefined

/** Has the last request got no answer? One state for the whole application: every request reports to it. */
export const connectionLost = computed(() => isLost.value)

/** Every answer ends an outage, whatever it says; a request without one begins it. */
export function reportAnswer(answered: boolean) {
  if (!answered) {
    isLost.value = true
    timer ??= setTimeout(() => void askAgain(), ASK_EVERY)
    return
  }
  isLost.value = false
  clearTimeout(timer)
  timer = undefined
  const resumed = waiting
  waiting = []
  for (const resume of resumed) resume()
}

/** Resolves when the server answers again, at once where it does. */
export function whenConnected(): Promise<void> {
  return isLost.value ? new Promise((resolve) => waiting.push(resolve)) : Promise.resolve()
}

/** Asks whether the server is back; true where it is. */
export async function askAgain(): Promise<boolean> {
  clearTimeout(timer)
  timer = undefined
  const answered = await fetch('/api/health', { cache: 'no-store' }).then(
    (response) => response.ok,
    () => false,
  )
  reportAnswer(answered)
  return answered
}
