import { useEventListener } from '@vueuse/core'

export interface LadderActions {
  move: (bars: number, rungs: number) => void
  take: () => void
  raise: (by: number) => void
  help: () => void
}

/** Keys of the ladder and what they do, in the words the help shows. */
export const LADDER_KEYS: readonly (readonly [string, string])[] = [
  ['← →', 'bar before, bar after'],
  ['↑ ↓', 'rung above, rung below'],
  ['Enter', 'take the cell into the path'],
  ['[ ]', 'lower, raise the bar'],
  ['Home End', 'first bar, last bar'],
  ['?', 'show or hide the keys'],
]

const TYPING = 'input, textarea, select, [contenteditable], [role=combobox], [role=listbox]'

/** Works the ladder without a mouse; keys meant for a field or a button stay theirs. */
export function useLadderKeys(actions: LadderActions) {
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    const target = event.target instanceof Element ? event.target : null
    if (event.ctrlKey || event.metaKey || event.altKey || target?.closest(TYPING)) return
    const pressable = target?.closest('button, a')
    if (event.key === 'Enter' && pressable && !pressable.hasAttribute('data-cell')) return
    const action: Record<string, () => void> = {
      ArrowLeft: () => actions.move(-1, 0),
      ArrowRight: () => actions.move(1, 0),
      ArrowUp: () => actions.move(0, 1),
      ArrowDown: () => actions.move(0, -1),
      Home: () => actions.move(-Infinity, 0),
      End: () => actions.move(Infinity, 0),
      Enter: actions.take,
      '[': () => actions.raise(-1),
      ']': () => actions.raise(1),
      '?': actions.help,
    }
    const run = action[event.key]
    if (!run) return
    event.preventDefault()
    run()
  })
}
