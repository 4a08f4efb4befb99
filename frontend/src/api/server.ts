import createClient from 'openapi-fetch'

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

const UNREACHABLE: Problem = {
  title: 'No answer',
  status: 0,
  detail: 'Nailhead does not answer.',
  remedy: 'Check that it is still running in its terminal, then try again.',
}

const aborted = (error: unknown) => error instanceof DOMException && error.name === 'AbortError'

/** The server's operations, typed by its own description of them. */
export const server = createClient<paths>({ baseUrl: '/' })

/** What an operation answered; throws Refused for a refusal, for no answer and for one that was cut short. */
export async function got<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  const { data, error, response } = await call.catch((reason: unknown) => {
    throw aborted(reason) ? reason : new Refused(UNREACHABLE)
  })
  if (response.ok) return data as T
  throw new Refused(isProblem(error) ? error : { ...UNREACHABLE, status: response.status })
}

function isProblem(error: unknown): error is Problem {
  return typeof error === 'object' && error !== null && 'detail' in error && 'status' in error
}

/** A request that is no plain JSON; refused as the others are. */
export async function send(path: string, init: RequestInit = {}): Promise<Response> {
  const response = await fetch(`/api${path}`, init).catch((reason: unknown) => {
    throw aborted(reason) ? reason : new Refused(UNREACHABLE)
  })
  if (response.ok) return response
  const problem: unknown = await response.json().catch(() => null)
  throw new Refused(isProblem(problem) ? problem : { ...UNREACHABLE, status: response.status })
}

/** The body of an answer that comes by `send`. */
export async function json<T>(response: Response): Promise<T> {
  return (await response.json().catch(() => {
    throw new Refused(UNREACHABLE)
  })) as T
}

/** Browsers carry so many bytes of a request when the page is left at once; what was just done is kept all the same. */
const CARRIED = 60_000
export const kept = (body: unknown) => ({ keepalive: (JSON.stringify(body)?.length ?? 0) < CARRIED })
