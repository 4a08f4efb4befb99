import { describe, expect, it } from 'vitest'

import { got, json, Refused } from '@/api/server'

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
    for (const broken of [
      Promise.reject(new SyntaxError('Unexpected end of JSON input')),
      Promise.reject(new TypeError('Failed to fetch')),
      Promise.resolve({ error: '<html>', response: answer(502) }),
    ]) {
      expect((await refusal(got(broken))).remedy).toContain('still running')
    }
    expect((await refusal(json(new Response('{"cut')))).status).toBe(0)
  })

  it('lets a request that was called off pass as such', async () => {
    const off = new DOMException('off', 'AbortError')
    await expect(got(Promise.reject(off))).rejects.toBe(off)
  })
})
