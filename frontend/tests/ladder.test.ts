import { ref } from 'vue'
import { beforeEach, describe, expect, it, vi } from 'vitest'

import { Refused, type Change, type Ladder, type PathState, type Phrase } from '@/api/client'
import { scaleOf } from '@/components/ladder/scale'
import { failures, sendBeforeLeaving } from '@/composables/changeQueue'
import { useLadder } from '@/composables/useLadder'
import { useSheet } from '@/composables/useSheet'

const api = vi.hoisted(() => ({ ladder: vi.fn(), sheet: vi.fn(), arrange: vi.fn(), undo: vi.fn(), phrase: vi.fn(), arrangeAll: vi.fn() }))
vi.mock('@/api/client', async (original) => ({ ...(await original<object>()), api }))

const bars = [0, 1, 2].map((place) => ({ place, number: place + 1 }))
const path = (rungs: number[], revision: number) =>
  ({ rungs, second: rungs, groups: [0, 1, 0], locked: [1], revision, kept: [] }) as unknown as PathState
const phrases = () => [{ index: 0, width: 10, bars, columns: null }] as unknown as Phrase[]
const ladder = (rungs: number[], revision: number) =>
  ({ rungs: [1, 2, 3, 4].map((number) => ({ number })), phrases: phrases(), path: path(rungs, revision) }) as unknown as Ladder
/** Each test's own arrangement, so that a change that is never answered holds up no other test. */
let setup = 0
const settled = () => new Promise((resolve) => setTimeout(resolve))
const answer = (rungs: number[], revision: number) => ({ path: path(rungs, revision), phrases: [], reload: false, said: 'done', remarks: [] })

describe('a ladder', () => {
  beforeEach(() => {
    for (const one of Object.values(api)) one.mockReset()
    api.ladder.mockResolvedValue(ladder([2, 2, 2], 5))
    api.phrase.mockImplementation(() => Promise.resolve({ ...phrases()[0], columns: [{ place: 0, cells: [{ rung: 1 }] }] }))
  })

  it('shows a step before it is answered: equal bars together, locked ones not, never above the top', async () => {
    const bench = useLadder(ref(++setup))
    await bench.load()
    api.arrange.mockReturnValue(new Promise(() => undefined))
    void bench.change({ do: 'raise', places: [0], by: 9, second: false } as Change)
    expect(bench.path.value?.rungs).toEqual([4, 2, 4])
    void bench.change({ do: 'level', rung: 1 } as Change)
    expect(bench.path.value?.rungs).toEqual([1, 2, 1])
  })

  it('sends each change with the revision that the last one gave', async () => {
    const bench = useLadder(ref(++setup))
    await bench.load()
    api.arrange.mockResolvedValueOnce(answer([3, 2, 3], 6)).mockResolvedValueOnce(answer([4, 2, 4], 7))
    await Promise.all([bench.change({ do: 'raise', places: [0], by: 1 } as Change), bench.change({ do: 'raise', places: [0], by: 1 } as Change)])
    expect(api.arrange.mock.calls.map((call) => call[2] as number)).toEqual([5, 6])
    expect(bench.path.value?.rungs).toEqual([4, 2, 4])
    expect(bench.said.value).toBe('done')
  })

  it('is kept before the sheet that is opened behind a change is laid out', async () => {
    const bench = useLadder(ref(++setup))
    await bench.load()
    let keep: (answered: object) => void = () => undefined
    api.arrange.mockReturnValueOnce(new Promise((resolve) => (keep = resolve)))
    void bench.change({ do: 'level', rung: 4 } as Change)
    const other = useSheet(ref(setup))
    const opened = other.load()
    await settled()
    expect(api.sheet).not.toHaveBeenCalled()
    keep(answer([4, 4, 4], 6))
    await opened
    expect(api.sheet).toHaveBeenCalledOnce()
  })

  it('keeps the notes in sight after a refusal, and says why', async () => {
    const bench = useLadder(ref(++setup))
    await bench.load()
    bench.sight(0, true)
    await settled()
    expect(bench.cellAt(0, 1)).toBeDefined()
    const problem = { title: 'Refused', status: 422, detail: 'Bar 1 is locked.', field: 'place' }
    api.arrange.mockRejectedValueOnce(new Refused(problem))
    expect(await bench.change({ do: 'lock', places: [0] } as Change)).toBe(false)
    await settled()
    expect(failures.value.at(-1)).toMatchObject({ problem, again: null, entries: [{ label: 'Bar 1' }] })
    expect(bench.cellAt(0, 1)).toBeDefined()
  })

  it('shows the path as the server has it once a change has failed, and the changes behind it on top', async () => {
    const bench = useLadder(ref(++setup))
    await bench.load()
    api.arrange.mockRejectedValueOnce(new Refused({ title: 'Refused', status: 422, detail: 'Bar 3 cannot.' }))
    let keep: (answered: object) => void = () => undefined
    api.arrange.mockReturnValueOnce(new Promise((resolve) => (keep = resolve)))
    const failed = bench.change({ do: 'rungs', places: [0], rung: 4, second: false } as Change)
    const later = bench.change({ do: 'level', rung: 3 } as Change)
    expect(bench.path.value?.rungs).toEqual([3, 2, 3])
    expect(await failed).toBe(false)
    expect(bench.path.value?.rungs).toEqual([3, 2, 3])
    keep(answer([3, 3, 3], 6))
    expect(await later).toBe(true)
    expect(bench.path.value?.rungs).toEqual([3, 3, 3])
  })

  it('sends everything that waits in one request when its page is left', async () => {
    const bench = useLadder(ref(++setup))
    await bench.load()
    api.arrange.mockReturnValue(new Promise(() => undefined))
    for (const rung of [3, 4]) void bench.change({ do: 'level', rung } as Change)
    void bench.undo()
    sendBeforeLeaving()
    expect(api.arrangeAll.mock.calls.filter(([id]) => id === setup)).toEqual([
      [setup, [{ do: 'level', rung: 3 }, { do: 'level', rung: 4 }, { do: 'undo' }].map((change) => ({ id: expect.any(String) as string, change })), 5],
    ])
  })

  it('keeps the notes in sight after a change that computes everything anew', async () => {
    const bench = useLadder(ref(++setup))
    await bench.load()
    bench.sight(0, true)
    api.arrange.mockResolvedValueOnce({ ...answer([2, 2, 2], 6), reload: true })
    await bench.change({ do: 'choose', name: 'nail', way: 'middle' } as Change)
    await settled()
    expect(api.ladder).toHaveBeenCalledTimes(2)
    expect(bench.cellAt(0, 1)).toBeDefined()
  })
})

describe('the scale of the drawing', () => {
  const frame = { head_height: 10, cell_height: 20, rungs: Array(7) as Ladder['rungs'] }
  it('lets the widest phrase and all rungs in sight, between a smallest and a largest', () => {
    expect(scaleOf(frame, [{ width: 100 }, { width: 240 }], 1000, 700)).toBeCloseTo(880 / 240)
    expect(scaleOf(frame, [{ width: 100 }], 2000, 490)).toBeCloseTo((490 - 16) / 153)
    expect(scaleOf(frame, [{ width: 900 }], 800, 600)).toBe(2.7)
    expect(scaleOf(frame, [{ width: 20 }], 3000, 3000)).toBe(4.6)
  })
})
