import { nextTick, ref, type Ref } from 'vue'

import type { CellDetail, NoteEdit } from '@/api/client'
import type { useAlternatives } from './useAlternatives'
import type { useCell } from './useCell'
import type { useLadder } from './useLadder'
import { useLadderKeys, type LadderActions } from './useLadderKeys'
import type { useSelection } from './useSelection'

/** An edit of one note, what it does not use left out. */
const EDIT: Omit<NoteEdit, 'do' | 'onset' | 'string'> = { fret: 0, to_string: 0, finger: 0, touch: '', ornament: null, start: 0, slow: false }

interface Bench {
  bench: ReturnType<typeof useLadder>
  selection: ReturnType<typeof useSelection>
  cell: ReturnType<typeof useCell>
  others: ReturnType<typeof useAlternatives>
  /** Where the phrases scroll. */
  room: Ref<HTMLElement | null>
}

/** What a teacher does on the ladder: going about in it, and every change of the selected bars. */
export function useLadderWork({ bench, selection, cell, others, room }: Bench) {
  const { place, rung, stretch, select: choosePlace } = selection
  const second = ref(false)
  const path = bench.path
  const kept = () => bench.cellAt(place.value, rung.value)
  const here = () => ({ place: place.value, rung: rung.value })
  const onPath = () => (second.value ? path.value?.second : path.value?.rungs)?.[place.value] ?? 1
  const locked = () => path.value?.locked.includes(place.value) ?? false
  const split = () => path.value?.split.includes(place.value) ?? false

  /** Brings what is selected under the eye; `still` leaves the page where it is, for a hand that is on it. */
  async function show(still = false) {
    void bench.want(bench.phraseOf(place.value))
    await nextTick()
    const target = document.querySelector<HTMLElement>(`[data-place="${place.value}"][data-rung="${rung.value}"]`)
    target?.focus({ preventScroll: true })
    if (still) return
    const phrase = target?.closest<HTMLElement>('.phrase')
    const box = room.value?.getBoundingClientRect()
    const seen = phrase?.getBoundingClientRect()
    if (box && seen && (seen.top < box.top - 2 || seen.bottom > box.bottom + 2)) phrase?.scrollIntoView({ block: 'start' })
  }

  function select(newPlace: number, newRung: number, extend = false) {
    choosePlace(newPlace, newRung, extend)
    void show()
  }

  /** By mouse or finger: were the page to move now, the hand would drag on, or take, another bar than it means. */
  function point(newPlace: number, newRung: number, extend = false) {
    choosePlace(newPlace, newRung, extend)
    void show(true)
  }

  function take(newPlace = place.value, newRung = rung.value) {
    if (!stretch.value.includes(newPlace)) choosePlace(newPlace, newRung)
    rung.value = newRung
    void bench.change({ do: 'rungs', places: stretch.value, rung: newRung, second: second.value })
    void show()
  }

  function raise(by: number) {
    void bench.change({ do: 'raise', places: stretch.value, by, second: second.value })
    rung.value = onPath()
    void show()
  }

  const takeAlternative = (difference: string) => bench.change({ do: 'alternative', ...here(), difference })

  /** From the computed way through the alternatives and back to it. */
  async function nextAlternative() {
    const offered = await others.ready()
    const at = offered.findIndex((one) => one.difference === kept()?.said)
    const next = offered[at + 1]
    if (next) await takeAlternative(next.difference)
    else if (kept()?.kept) await bench.change({ do: 'release', ...here() })
  }

  const edit = (change: NoteEdit) => bench.change({ do: 'edit', ...here(), edit: change })

  function setFret(onset: string, string: number, fret: number) {
    cell.pick(onset, string)
    const there = (cell.cell.value as CellDetail | null)?.notes.some((one) => one.onset === onset && one.string === string)
    void edit({ ...EDIT, do: there ? 'fret' : 'add', onset, string, fret })
  }

  const lock = () => bench.change({ do: locked() ? 'unlock' : 'lock', places: stretch.value })
  const toggleSplit = () => bench.change({ do: split() ? 'join' : 'split', place: place.value })
  const move = (by: number, up: number, extend: boolean) => select(place.value + by, rung.value + up, extend)

  /** The whole path on one rung, and the eye with it. */
  async function level(number: number) {
    if (number > (bench.ladder.value?.rungs.length ?? 0)) return
    await bench.change({ do: 'level', rung: number })
    select(place.value, number, false)
  }

  /** Everything on the ladder without a mouse; `more` is what its keys do beside the path. */
  const byKeys = (more: Pick<LadderActions, 'play' | 'hear' | 'marks' | 'print'>) =>
    useLadderKeys({
      ...more,
      move,
      take: () => take(),
      raise,
      alternative: () => void nextAlternative(),
      lock: () => void lock(),
      split: () => void toggleSplit(),
      level: (number) => void level(number),
      undo: () => path.value?.undo && void bench.undo(),
      redo: () => path.value?.redo && void bench.redo(),
    })

  return {
    lock, toggleSplit, move, byKeys, level,
    second, show, select, point, take, raise, takeAlternative, nextAlternative, edit, setFret,
    erase: (onset: string, string: number) => void edit({ ...EDIT, do: 'delete', onset, string }),
    moveNote: (string: number, fret: number) =>
      cell.note.value && bench.change({ do: 'unison', ...here(), onset: cell.note.value.onset, string, fret }),
    part: (by: number) => bench.change({ do: 'raise part', place: place.value, by }),
    release: () => bench.change({ do: 'release', ...here() }),
    pattern: (name: string) => bench.change({ do: 'pattern', ...here(), pattern: name }),
    shape: (onset: string, frets: string) => bench.change({ do: 'shape', ...here(), onset, frets }),
    ownPattern: (name: string, text: string) => bench.change({ do: 'own pattern', name, text }),
    dropPattern: (name: string) => bench.change({ do: 'drop pattern', name }),
  }
}
