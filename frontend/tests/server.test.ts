import { describe, expect, it } from 'vitest'

import { connectionLost, reportAnswer } from '@/api/connection'
import { got, json, outlivesPage, read, Refused } from '@/api/server'

const answer = (status: number) => new Response(null, { status })
const refusal = async (work: Promise<unknown>) => {
  const error: unknown = await work.then(
    () => null,
    (reason: unknown) => reason,
  )
  expect(error).toBeInstanceOf(Refused)
  return (error as Refused).problem
}

describe('what an operation answered', () => {
  it('is its data', async () => {
    expect(await got(Promise.resolve({ data: [1, 2], response: answer(200) }))).toEqual([1, 2])
    expect(await got(Promise.resolve({ response: answer(204) }))).toBeUndefined()
  })

  it('is a refusal with the problem as the server told it', async () => {
    const problem = { title: 'Conflict', status: 409, detail: 'Changed in another window.', remedy: 'Look again.' }
    expect(await refusal(got(Promise.resolve({ error: problem, response: answer(409) })))).toEqual(problem)
  })

  it('is a refusal with a remedy when the answer is cut short, is no problem document, or never comes', async () => {
    for (const broken of [Promise.reject(new SyntaxError('Unexpected end of JSON input')), Promise.reject(new TypeError('Failed to fetch'))]) {
      expect((await refusal(got(broken))).remedy).toContain('still running')
      expect(connectionLost.value).toBe(true)
    }
    expect(await refusal(got(Promise.resolve({ error: '<html>', response: answer(502) })))).toMatchObject({ status: 502 })
    expect(connectionLost.value).toBe(false)
    expect((await refusal(json(new Response('{"cut')))).status).toBe(0)
  })

  it('is waited for where a question gets none, and asked again once the server is back', async () => {
    const calls = [Promise.reject(new TypeError('Failed to fetch')), Promise.resolve({ data: 7, response: answer(200) })]
    let asked = 0
    const found = read(() => calls[asked++]!)
    await new Promise((resolve) => setTimeout(resolve))
    expect([asked, connectionLost.value]).toEqual([1, true])
    reportAnswer(true)
    expect(await found).toBe(7)
  })

  it('is given up where it never comes though the server is there', async () => {
    let asked = 0
    const refused = refusal(read(() => ((asked += 1), Promise.reject(new TypeError('Failed to fetch')))))
    for (let turn = 0; turn < 3; turn += 1) {
      await new Promise((resolve) => setTimeout(resolve))
      reportAnswer(true)
    }
    expect(await refused).toMatchObject({ status: 599 })
    expect(asked).toBe(3)
  })

  it('outlives its page when its bytes are few, whatever its letters', () => {
    // Fetch standard: requests with keepalive carry 64 KiB in all; 35,000 "ş" are 70,000 bytes of UTF-8.
    expect(outlivesPage({ text: 's'.repeat(35_000) })).toBe(true)
    expect(outlivesPage({ text: 'ş'.repeat(35_000) })).toBe(false)
  })

  it('lets a request that was called off pass as such', async () => {
    const off = new DOMException('off', 'AbortError')
    await expect(got(Promise.reject(off))).rejects.toBe(off)
  })
})
