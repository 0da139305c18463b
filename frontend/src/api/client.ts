import createClient from 'openapi-fetch'
import type { paths } from './schema'

/** An answer that was not what was asked for, with the words to show. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly method: string,
    readonly url: string,
    detail: string,
    /** The whole problem document, for those that carry more than words. */
    readonly problem: Record<string, unknown> = {},
  ) {
    super(detail)
  }
}

/** Whether something was refused as of one kind, by the name that the problem has. */
export const isRefused = (error: unknown, kind: string): error is ApiError =>
  error instanceof ApiError && error.problem.type === `urn:nevefield:${kind}`

export const TOKEN_HEADER = 'X-Nevefield-Token'
const UNREACHABLE = 'Nevefield does not answer. What was done is kept; try again in a moment.'

let token = ''
let onSignedOut: () => void = () => undefined
let onUnanswered: () => void = () => undefined

/** Set the token that every request which changes something carries. */
export function setToken(value: string): void {
  token = value
}

/** Return the token, for the one request that is not made by the client: a file's. */
export function getToken(): string {
  return token
}

/** Say what to do when the session has ended. */
export function whenSignedOut(act: () => void): void {
  onSignedOut = act
}

/** Say what to do when nothing answers. */
export function whenUnanswered(act: () => void): void {
  onUnanswered = act
}

export const client = createClient<paths>({ baseUrl: '/' })
client.use({
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set(TOKEN_HEADER, token)
    return request
  },
})

interface Answer<T> {
  data?: T
  error?: unknown
  response: Response
}

/** Wait for an answer and give its content, or throw an ApiError. */
export async function take<T>(asked: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await asked
  } catch {
    onUnanswered()
    throw new ApiError(0, '', '', UNREACHABLE)
  }
  if (answer.response.ok) return answer.data as T
  throw problemOf(answer.response.status, answer.response.url, answer.error)
}

/** Make an error of a problem document (RFC 9457). */
export function problemOf(status: number, url: string, problem: unknown): ApiError {
  if (status === 401 && !url.endsWith('/api/session')) onSignedOut()
  const found = typeof problem === 'object' && problem ? (problem as Record<string, unknown>) : {}
  const detail = 'detail' in found ? String(found.detail) : ''
  return new ApiError(status, '', url, detail || UNREACHABLE, found)
}
