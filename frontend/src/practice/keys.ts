import { useEventListener, useStorage } from '@vueuse/core'
import { computed, ref } from 'vue'

/** What can be done by a key, the keys that do it, and the words for it. A foot switch sends a key like any other. */
export const ACTIONS = [
  ['play', [' ', 'PageDown'], 'play, stop'],
  ['earlier', ['ArrowLeft'], 'bar before; with Shift as far as there'],
  ['later', ['ArrowRight'], 'next bar; with Shift as far as there'],
  ['half', ['1'], 'half a bar'],
  ['bar', ['2'], 'the bar'],
  ['line', ['3'], 'the line'],
  ['part', ['4'], 'the part'],
  ['whole', ['5'], 'the whole, as it is played'],
  ['turns', ['y'], 'my turn, your turn'],
  ['slower', ['-'], 'slower'],
  ['faster', ['+', '='], 'faster'],
  ['usual', ['0'], 'at the tune’s tempo'],
  ['again', ['l'], 'round and round, or once'],
  ['countIn', ['i'], 'count in: first time, every time, never'],
  ['melody', ['m'], 'melody on or off'],
  ['others', ['o'], 'other notes on or off'],
  ['company', ['k'], 'backing on or off'],
  ['count', ['t'], 'click on or off'],
  ['veil', ['v'], 'tab hidden, rhythm, all'],
  ['next', ['n'], 'next step of the plan'],
  ['before', ['p'], 'step before'],
  ['clean', ['c', 'PageUp'], 'that was clean'],
  ['repeat', ['a'], 'again'],
  ['back', ['b'], 'back, a little slower'],
  ['drill', ['d'], 'next drill'],
  ['tune', ['Escape'], 'back to the tune'],
  ['alone', ['f'], 'the tab alone'],
  ['keys', ['?'], 'these keys'],
] as const satisfies readonly (readonly [string, readonly string[], string])[]
export type Action = (typeof ACTIONS)[number][0]
export type Doing = Record<Action, (extend: boolean) => void>

const TYPING = 'input:not([type=checkbox], [type=range]), textarea, select, [contenteditable]'
const NAMES: Record<string, string> = { ' ': 'Space', ArrowLeft: '←', ArrowRight: '→', PageDown: 'PgDn', PageUp: 'PgUp', Escape: 'Esc' }
export const keyName = (key: string) => NAMES[key] ?? key

/** Works the room by keys, which a player may change; a key does one thing. */
export function usePracticeKeys(doing: Doing) {
  const own = useStorage<Partial<Record<Action, string[]>>>('nailhead-practice-keys', {})
  const waiting = ref<Action | null>(null)
  const bound = computed(() => ACTIONS.map(([action, usual, words]) => ({ action, words, keys: own.value[action] ?? [...usual] })))

  /** The next key pressed does this, and nothing else any more. */
  const change = (action: Action) => void (waiting.value = waiting.value === action ? null : action)
  const forget = () => void (own.value = {})

  function give(action: Action, key: string) {
    for (const one of bound.value) if (one.keys.includes(key)) own.value[one.action] = one.keys.filter((each) => each !== key)
    own.value[action] = [key]
    waiting.value = null
  }

  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    const target = event.target instanceof Element ? event.target : null
    if (event.ctrlKey || event.metaKey || event.altKey || event.key === 'Shift' || event.key === 'Tab') return
    if (waiting.value) {
      event.preventDefault()
      give(waiting.value, event.key)
      return
    }
    if (target?.closest(TYPING) || (event.key.startsWith('Arrow') && target?.matches('[type=range]'))) return
    if (event.key === 'Enter' || (event.key === ' ' && target?.closest('button, a, [type=checkbox]'))) return
    const found = bound.value.find((one) => one.keys.includes(event.key))
    if (!found) return
    event.preventDefault()
    doing[found.action](event.shiftKey)
  })
  return { bound, waiting, change, forget }
}
