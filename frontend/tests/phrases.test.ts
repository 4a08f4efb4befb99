import { ref } from 'vue'
import { beforeEach, describe, expect, it, vi } from 'vitest'

import { Refused, type Phrase } from '@/api/client'
import { usePhrases } from '@/composables/usePhrases'

const { phrase } = vi.hoisted(() => ({ phrase: vi.fn() }))
vi.mock('@/api/client', async (original) => ({ ...(await original<object>()), api: { phrase } }))

const bare = (index: number) => ({ index, width: 10, bars: [{ place: index }], columns: null }) as unknown as Phrase
const full = (index: number, mark = 'notes') =>
  ({ ...bare(index), columns: [{ place: index, head: [], cells: [{ rung: 1, said: mark }] }] }) as unknown as Phrase
const settled = () => new Promise((resolve) => setTimeout(resolve))
const problem = { title: 'No answer', status: 0, detail: 'Nailhead does not answer.' }

describe('the phrases of a ladder', () => {
  beforeEach(() => phrase.mockReset().mockImplementation((_: number, index: number) => Promise.resolve(full(index))))

  it('come with their notes when they are in sight, once', async () => {
    const rows = usePhrases(ref(7))
    rows.put([bare(0), bare(1)])
    rows.sight(1, true)
    rows.sight(1, true)
    await settled()
    expect(phrase.mock.calls).toEqual([[7, 1]])
    expect(rows.cellAt(1, 1)?.said).toBe('notes')
    expect(rows.cellAt(0, 1)).toBeUndefined()
  })

  it('get their notes again when a new ladder has taken them away, without being scrolled', async () => {
    const rows = usePhrases(ref(7))
    rows.put([bare(0), bare(1)])
    rows.sight(0, true)
    rows.sight(1, true)
    await settled()
    rows.put([bare(0), bare(1)])
    await settled()
    expect(rows.cellAt(0, 1)?.said).toBe('notes')
    expect(rows.cellAt(1, 1)?.said).toBe('notes')
  })

  it('show the notes they had until their new ones come, and get those when they come into sight', async () => {
    const rows = usePhrases(ref(7))
    rows.put([bare(0), bare(1)])
    rows.sight(0, true)
    rows.sight(1, true)
    await settled()
    rows.sight(1, false)
    phrase.mockImplementation((_: number, index: number) => Promise.resolve(full(index, 'new notes')))
    rows.put([bare(0), bare(1)])
    expect(rows.cellAt(0, 1)?.said).toBe('notes')
    await settled()
    expect([rows.cellAt(0, 1)?.said, rows.cellAt(1, 1)?.said]).toEqual(['new notes', 'notes'])
    rows.sight(1, true)
    await settled()
    expect(rows.cellAt(1, 1)?.said).toBe('new notes')
  })

  it('are blank where the bars stand otherwise than before', async () => {
    const rows = usePhrases(ref(7))
    rows.put([full(0)])
    rows.put([{ ...bare(0), bars: [{ place: 0, width: 3 }] } as unknown as Phrase])
    expect(rows.cellAt(0, 1)).toBeUndefined()
  })

  it('throw an answer away that belongs to an older ladder', async () => {
    let late: (value: Phrase) => void = () => undefined
    phrase.mockImplementationOnce(() => new Promise((resolve) => (late = resolve)))
    const rows = usePhrases(ref(7))
    rows.put([bare(0)])
    rows.sight(0, true)
    rows.put([bare(0)])
    await settled()
    late(full(0, 'old notes'))
    await settled()
    expect(rows.cellAt(0, 1)?.said).toBe('notes')
  })

  it('throw an answer away that was asked for before a change', async () => {
    let late: (value: Phrase) => void = () => undefined
    phrase.mockImplementationOnce(() => new Promise((resolve) => (late = resolve)))
    const rows = usePhrases(ref(7))
    rows.put([bare(0)])
    rows.sight(0, true)
    rows.take([full(0, 'changed')])
    late(full(0, 'before the change'))
    await settled()
    expect(rows.cellAt(0, 1)?.said).toBe('changed')
    expect(phrase).toHaveBeenCalledTimes(1)
  })

  it('are asked for anew where the change came without them', async () => {
    let late: (value: Phrase) => void = () => undefined
    phrase.mockImplementationOnce(() => new Promise((resolve) => (late = resolve)))
    const rows = usePhrases(ref(7))
    rows.put([bare(0)])
    rows.sight(0, true)
    rows.take([bare(0)])
    late(full(0, 'before the change'))
    await settled()
    expect(rows.cellAt(0, 1)?.said).toBe('notes')
    expect(phrase).toHaveBeenCalledTimes(2)
  })

  it('say that they failed, and come when they are asked for again', async () => {
    phrase.mockRejectedValueOnce(new Refused(problem))
    const rows = usePhrases(ref(7))
    rows.put([bare(0)])
    rows.sight(0, true)
    await settled()
    expect(rows.problems.value.get(0)).toEqual(problem)
    await rows.again(0)
    expect(rows.problems.value.size).toBe(0)
    expect(rows.cellAt(0, 1)?.said).toBe('notes')
  })
})
