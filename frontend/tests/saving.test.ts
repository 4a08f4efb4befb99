import { effectScope, nextTick, ref } from 'vue'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'

import { Refused } from '@/api/client'
import { reportAnswer } from '@/api/connection'
import { failures } from '@/composables/changeQueue'
import { useDesk } from '@/composables/useDesk'
import { useSheet } from '@/composables/useSheet'

const api = vi.hoisted(() => ({ tune: vi.fn(), read: vi.fn(), saveText: vi.fn(), enter: vi.fn(), change: vi.fn(), sheet: vi.fn(), arrange: vi.fn() }))
vi.mock('@/api/client', async (original) => ({ ...(await original<object>()), api }))

const cut = new Refused({ title: 'No answer', status: 0, detail: 'Nailhead does not answer.' })
const full = new Refused({ title: 'No room', status: 507, detail: 'There is no room on the disk.' })
/** Lets debounced saves and what follows them happen. */
const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms)

describe('saving goes on', () => {
  beforeEach(() => {
    vi.useFakeTimers()
    for (const one of Object.values(api)) one.mockReset()
    api.tune.mockResolvedValue({ text: 'X:1', revision: 1 })
    api.read.mockResolvedValue({ readable: true })
  })
  afterEach(() => void vi.useRealTimers())

  async function desk() {
    const scope = effectScope()
    const made = scope.run(() => useDesk(1, ref(null)))!
    await made.load()
    return { ...made, scope }
  }

  it('on the desk after a save that the server could not do: tried again, and the next change is kept', async () => {
    const { text, unsaved, saveProblem, scope } = await desk()
    api.saveText.mockRejectedValueOnce(full).mockResolvedValue({ revision: 2 })
    text.value = 'X:2'
    await nextTick()
    await pass(600)
    expect(saveProblem.value).not.toBeNull()
    expect(unsaved.value).toBe(true)
    await pass(3000)
    expect(unsaved.value).toBe(false)
    expect(saveProblem.value).toBeNull()
    text.value = 'X:3'
    await nextTick()
    await pass(600)
    expect(api.saveText.mock.calls.at(-1)).toEqual([1, 'X:3', 2])
    expect(unsaved.value).toBe(false)
    scope.stop()
  })

  it('on the desk as soon as a server that was away is back', async () => {
    const { text, unsaved, scope } = await desk()
    reportAnswer(false)
    api.saveText.mockRejectedValueOnce(cut).mockResolvedValue({ revision: 2 })
    text.value = 'X:2'
    await nextTick()
    await pass(600)
    expect(unsaved.value).toBe(true)
    reportAnswer(true)
    await nextTick()
    await pass(0)
    expect(unsaved.value).toBe(false)
    scope.stop()
  })

  it('on the desk with what is typed while the server changes the text', async () => {
    const { text, change, scope } = await desk()
    let answer: (made: object) => void = () => undefined
    api.change.mockReturnValueOnce(new Promise((resolve) => (answer = resolve))).mockResolvedValue({ abc: 'X:1 and more, changed' })
    const changed = change({} as never)
    text.value = 'X:1 and more'
    answer({ abc: 'X:1, changed' })
    await changed
    expect(api.change.mock.calls.map((call) => call[0] as string)).toEqual(['X:1', 'X:1 and more'])
    scope.stop()
  })

  it('on the desk after a fault of our own, too', async () => {
    const { text, unsaved, save, scope } = await desk()
    api.saveText.mockRejectedValueOnce(new TypeError('a fault')).mockResolvedValue({ revision: 2 })
    text.value = 'X:2'
    await expect(save()).rejects.toThrow('a fault')
    await save()
    expect(unsaved.value).toBe(false)
    scope.stop()
  })

  it('for entries of notes', async () => {
    const { enter, scope } = await desk()
    api.enter.mockRejectedValueOnce(new TypeError('a fault')).mockResolvedValue({ abc: 'X:9', at: 3 })
    await expect(enter({} as never, () => 0)).rejects.toThrow('a fault')
    await enter({} as never, () => 0)
    expect(api.enter).toHaveBeenCalledTimes(2)
    scope.stop()
  })

  it('for what a sheet shows', async () => {
    api.sheet.mockResolvedValue({ revision: 4 })
    const { show, load } = useSheet(ref(1))
    await load()
    api.arrange.mockRejectedValueOnce(new TypeError('a fault')).mockRejectedValueOnce(full).mockResolvedValue({ path: { revision: 5 } })
    await expect(show({})).rejects.toThrow('a fault')
    await show({})
    expect(failures.value.map((failure) => failure.problem)).toEqual([full.problem])
    await show({})
    expect(failures.value).toHaveLength(1)
  })
})
