import createClient from 'openapi-fetch'

import { reportAnswer, whenConnected } from './connection'
import type { paths } from './schema'

/** A problem document of the server: what, where and what to do. */
export interface Problem {
  title: string
  status: number
  detail: string
  field?: string
  remedy?: string
  bar?: number
  line?: number
  column?: number
}

/** What every refused request throws, and every one that got no whole answer. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail)
  }
}

/** No answer came; `status` 0 says so. The application tells it once, for all its screens. */
export const UNREACHABLE: Problem = {
  title: 'No answer',
  status: 0,
  detail: 'Nailhead is not responding.',
  remedy: 'Check that it is still running on this computer, then try again.',
}

const UNREADABLE = { title: 'No answer', detail: 'Nailhead sent an answer that cannot be read.', remedy: 'Try again; if it stays, start Nailhead again.' }

/** The server is there, and one answer of it never comes whole: told where it is missed. */
const CUT_SHORT: Problem = { title: 'No answer', status: 599, detail: 'The answer did not arrive.', remedy: 'Try again.' }

export const isUnreachable = (problem: Problem) => problem.status === 0

const aborted = (error: unknown) => error instanceof DOMException && error.name === 'AbortError'

/** The server's operations, typed by its own description of them. */
export const server = createClient<paths>({ baseUrl: '/' })

type Answer<T> = Promise<{ data?: T; error?: unknown; response: Response }>

/** What a request throws that got no whole answer. */
export function unreachable(reason: unknown): never {
  if (aborted(reason)) throw reason
  reportAnswer(false)
  throw new Refused(UNREACHABLE)
}

/** What an operation answered; throws Refused for a refusal, for no answer and for one that was cut short. */
export async function got<T>(call: Answer<T>): Promise<T> {
  const { data, error, response } = await call.catch(unreachable)
  reportAnswer(true)
  if (response.ok) return data as T
  throw new Refused(isProblem(error) ? error : { ...UNREADABLE, status: response.status })
}

/** How often a question is asked that gets no answer though the server is there. */
const MOST_ASKED = 3

/** What a question that changes nothing is answered; one that got no answer is asked again when the server is back. */
export async function read<T>(ask: () => Answer<T>): Promise<T> {
  for (let asked = 1; ; asked += 1) {
    try {
      return await got(ask())
    } catch (error) {
      if (!(error instanceof Refused) || !isUnreachable(error.problem)) throw error
      if (asked === MOST_ASKED) throw new Refused(CUT_SHORT)
      await whenConnected()
    }
  }
}

function isProblem(error: unknown): error is Problem {
  return typeof error === 'object' && error !== null && 'detail' in error && 'status' in error
}

/** A request that is no plain JSON; refused as the others are. */
export async function send(path: string, init: RequestInit = {}): Promise<Response> {
  const response = await fetch(`/api${path}`, init).catch(unreachable)
  reportAnswer(true)
  if (response.ok) return response
  const problem: unknown = await response.json().catch(() => null)
  throw new Refused(isProblem(problem) ? problem : { ...UNREADABLE, status: response.status })
}

/** The body of an answer that comes by `send`. */
export async function json<T>(response: Response): Promise<T> {
  return (await response.json().catch(unreachable)) as T
}

/** Bytes that browsers still send when the page is left: 64 KiB for all such requests together (Fetch standard). */
const MOST_KEPT_ALIVE = 60_000
const bytes = (body: unknown) => new TextEncoder().encode(JSON.stringify(body) ?? '').length

/** Is a body small enough to be sent on while its page is left? */
export const outlivesPage = (body: unknown) => bytes(body) < MOST_KEPT_ALIVE
/** What lets a request go on when its page is left, where it is small enough. */
export const kept = (body: unknown) => ({ keepalive: outlivesPage(body) })
