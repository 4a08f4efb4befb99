import { useEventListener } from '@vueuse/core'

export interface LadderActions {
  move: (bars: number, rungs: number, extend: boolean) => void
  take: () => void
  raise: (by: number) => void
  alternative: () => void
  lock: () => void
  split: () => void
  undo: () => void
  redo: () => void
  play: () => void
  hear: () => void
  marks: () => void
  level: (rung: number) => void
  print: () => void
}

/** Keys of the ladder and what they do, in the words the help shows. */
export const LADDER_KEYS: readonly (readonly [string, string])[] = [
  ['← →', 'bar before, bar after'],
  ['↑ ↓', 'rung above, rung below'],
  ['Shift ← →', 'a stretch of bars'],
  ['Enter', 'take the cell into the path'],
  ['[ ]', 'lower, raise the bar or the stretch'],
  ['1 … 7', 'put the whole path on that rung'],
  ['a', 'next alternative'],
  ['k', 'keep (lock) the bar, or let it go'],
  ['s', 'split from equal bars, or join again'],
  ['u U', 'undo, redo'],
  ['Space', 'play from here, stop'],
  ['h', 'hear the bar'],
  ['n', 'mark new notes, or hide the marks'],
  ['Home End', 'first bar, last bar'],
  ['in the large bar', 'arrows move, a number sets a fret, Delete takes out, Escape goes back'],
  ['p', 'to the sheet, to print'],
]

const TYPING = 'input, textarea, select, [contenteditable], [role=combobox], [role=listbox], [role=slider], [data-own-keys]'

/** Works the ladder without a mouse; keys meant for a field or a button stay theirs. */
export function useLadderKeys(actions: LadderActions) {
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    const target = event.target instanceof Element ? event.target : null
    if (event.ctrlKey || event.metaKey || event.altKey || target?.closest(TYPING)) return
    const pressable = target?.closest('button, a')
    if ((event.key === 'Enter' || event.key === ' ') && pressable && !pressable.hasAttribute('data-cell')) return
    const action: Record<string, () => void> = {
      ArrowLeft: () => actions.move(-1, 0, event.shiftKey),
      ArrowRight: () => actions.move(1, 0, event.shiftKey),
      ArrowUp: () => actions.move(0, 1, event.shiftKey),
      ArrowDown: () => actions.move(0, -1, event.shiftKey),
      Home: () => actions.move(-Infinity, 0, event.shiftKey),
      End: () => actions.move(Infinity, 0, event.shiftKey),
      Enter: actions.take,
      '[': () => actions.raise(-1),
      ']': () => actions.raise(1),
      a: actions.alternative,
      k: actions.lock,
      s: actions.split,
      u: actions.undo,
      U: actions.redo,
      ' ': actions.play,
      h: actions.hear,
      n: actions.marks,
      p: actions.print,
    }
    const run = action[event.key] ?? (/^[1-9]$/.test(event.key) ? () => actions.level(Number(event.key)) : undefined)
    if (!run) return
    event.preventDefault()
    run()
  })
}
