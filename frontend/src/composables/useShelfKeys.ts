import { useEventListener } from '@vueuse/core'

export interface ShelfActions {
  move: (by: number) => void
  open: () => void
  arrange: () => void
  tick: () => void
  find: () => void
}

/** Keys of the shelf and what they do, in the words the help shows. */
export const SHELF_KEYS: readonly (readonly [string, string])[] = [
  ['↑ ↓', 'tune above, tune below'],
  ['Enter', 'open its desk'],
  ['s', 'set it up'],
  ['x', 'tick it, or take the tick away'],
  ['/', 'find'],
  ['Ctrl V', 'paste a tune: a single one goes straight to its setup'],
]

const TYPING = 'input:not([type=checkbox]), textarea, select, [contenteditable], [role=combobox], [role=listbox]'

/** Works the shelf without a mouse; keys meant for a field or a button stay theirs. */
export function useShelfKeys(actions: ShelfActions) {
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    const target = event.target instanceof Element ? event.target : null
    if (event.ctrlKey || event.metaKey || event.altKey || target?.closest(TYPING)) return
    if (event.key === 'Enter' && target?.closest('button, a, summary')) return
    const action: Record<string, () => void> = {
      ArrowUp: () => actions.move(-1),
      ArrowDown: () => actions.move(1),
      Home: () => actions.move(-Infinity),
      End: () => actions.move(Infinity),
      Enter: actions.open,
      s: actions.arrange,
      x: actions.tick,
      '/': actions.find,
    }
    const run = action[event.key]
    if (!run) return
    event.preventDefault()
    run()
  })
}
