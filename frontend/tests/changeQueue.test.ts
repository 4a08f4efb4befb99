import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'

import { Refused } from '@/api/client'
import { createChangeQueue, dismiss, failures, RETRY_AFTER, safeToLeave, sendBeforeLeaving, unconfirmed } from '@/composables/changeQueue'

const away = new Refused({ title: 'No answer', status: 0, detail: 'Nailhead is not responding.' })
const busy = new Refused({ title: 'Busy', status: 503, detail: 'Too much is asked for at once.' })
const refused = new Refused({ title: 'Refused', status: 422, detail: 'Bar 1 is locked.' })
const conflict = new Refused({ title: 'Changed elsewhere', status: 409, detail: 'Another window.' })

const RETRIES = RETRY_AFTER.length
const pass = (ms = 20_000) => vi.advanceTimersByTimeAsync(ms)

describe('a queue of changes', () => {
  beforeEach(() => void vi.useFakeTimers())
  afterEach(() => {
    failures.value.forEach(dismiss)
    vi.useRealTimers()
  })

  const change = (label: string, send: (id: string) => Promise<unknown>, done = vi.fn()) => ({ label, send, done })

  it('sends one after the other, and again under the same id where no answer came', async () => {
    const queue = createChangeQueue()
    const first = vi.fn().mockRejectedValueOnce(away).mockRejectedValueOnce(away).mockResolvedValue('a')
    const second = vi.fn().mockResolvedValue('b')
    const made = Promise.all([queue.add(change('one', first)), queue.add(change('two', second))])
    await pass(RETRY_AFTER[0]! - 1)
    expect(second).not.toHaveBeenCalled()
    await pass()
    expect(await made).toEqual([true, true])
    expect(new Set(first.mock.calls.map((call) => call[0] as string)).size).toBe(1)
    expect(first).toHaveBeenCalledTimes(3)
    expect(failures.value).toEqual([])
  })

  it('gives up with everything behind it when the server stays away; all of it can be sent again in order', async () => {
    const queue = createChangeQueue()
    const sent: string[] = []
    let back = false
    const send = (name: string) => () => (sent.push(name), back ? Promise.resolve(name) : Promise.reject(away))
    const made = [queue.add(change('one', send('one'))), queue.add(change('two', send('two')))]
    await pass()
    expect(await Promise.all(made)).toEqual([false, false])
    expect(sent).toEqual(Array(RETRIES + 1).fill('one'))
    expect(unconfirmed.value).toBe(0)
    const [failure] = failures.value
    expect(failure!.entries.map((entry) => entry.label)).toEqual(['one', 'two'])
    expect(safeToLeave()).toBe(false)
    back = true
    failure!.again!()
    await pass()
    expect(sent.slice(-2)).toEqual(['one', 'two'])
    expect(failures.value).toEqual([])
    expect(safeToLeave()).toBe(true)
  })

  it('announces one outage once, with everything that failed in it, in order', async () => {
    const queue = createChangeQueue()
    const sent: string[] = []
    let back = false
    const send = (name: string) => () => (back ? (sent.push(name), Promise.resolve(name)) : Promise.reject(away))
    void queue.add(change('one', send('one')))
    await pass()
    void queue.add(change('two', send('two')))
    await pass()
    expect(failures.value.map((failure) => failure.entries.map((entry) => entry.label))).toEqual([['one', 'two']])
    back = true
    failures.value[0]!.again!()
    await pass()
    expect(sent).toEqual(['one', 'two'])
  })

  it('keeps a failure announced until it is dismissed, whatever succeeds later', async () => {
    const queue = createChangeQueue()
    const lost = queue.add(change('lost', () => Promise.reject(refused)))
    const later = queue.add(change('later', () => Promise.resolve(1)))
    await pass()
    expect([await lost, await later]).toEqual([false, true])
    expect(failures.value).toHaveLength(1)
    expect(failures.value[0]).toMatchObject({ problem: refused.problem, again: null })
    dismiss(failures.value[0]!)
    expect(failures.value).toEqual([])
  })

  it('waits for what a conflict brings before it sends the next change', async () => {
    let reloaded: () => void = () => undefined
    const queue = createChangeQueue({ failed: () => new Promise<void>((resolve) => (reloaded = resolve)) })
    const next = vi.fn().mockResolvedValue(1)
    void queue.add(change('mine', () => Promise.reject(conflict)))
    void queue.add(change('next', next))
    await pass()
    expect(next).not.toHaveBeenCalled()
    reloaded()
    await pass()
    expect(next).toHaveBeenCalledOnce()
    expect(failures.value[0]!.again).not.toBeNull()
  })

  it('asks a busy server once more, no oftener', async () => {
    const send = vi.fn().mockRejectedValue(busy)
    const made = createChangeQueue().add(change('one', send))
    await pass()
    expect(await made).toBe(false)
    expect(send).toHaveBeenCalledTimes(2)
  })

  it('lets an entry go and tells its answer in one moment, so that it is never shown twice', async () => {
    const queue = createChangeQueue()
    const seen: number[] = []
    void queue.add({ label: 'one', send: () => Promise.resolve(1), done: () => void seen.push(queue.pending.value.length) })
    await pass()
    expect(seen).toEqual([0])
  })

  it('goes on behind a fault of our own, which whoever asked hears of', async () => {
    const queue = createChangeQueue()
    const broken = queue.add(change('one', () => Promise.reject(new TypeError('a fault'))))
    const heard = expect(broken).rejects.toThrow('a fault')
    const after = queue.add(change('two', () => Promise.resolve(2)))
    await pass()
    await heard
    expect(await after).toBe(true)
  })

  it('sends what waits when the page is left', async () => {
    const queue = createChangeQueue()
    const sent: string[] = []
    for (const name of ['one', 'two', 'three']) void queue.add(change(name, () => (sent.push(name), new Promise(() => undefined))))
    await pass()
    expect(sent).toEqual(['one'])
    sendBeforeLeaving()
    expect(sent).toEqual(['one', 'two', 'three'])
  })
})
