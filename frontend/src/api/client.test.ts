import { describe, expect, it, vi } from 'vitest'
import { ApiError, problemOf, take, whenSignedOut } from './client'

const answer = (status: number, body: unknown, url = 'http://here/api/desk') => {
  const response = new Response(null, { status })
  Object.defineProperty(response, 'url', { value: url })
  return Promise.resolve(status < 300 ? { data: body, response } : { error: body, response })
}

describe('an answer of the API', () => {
  it('is given as it is when all is well', async () =>
    expect(await take(answer(200, { read: 3 }))).toEqual({ read: 3 }))

  it('is an error with the words of the problem document', async () => {
    const failed = take(answer(422, { detail: 'The file is empty.', title: 'x' }))
    await expect(failed).rejects.toThrow('The file is empty.')
    await expect(failed).rejects.toMatchObject({ status: 422 })
  })

  it('is an error in words when nothing answers', async () => {
    await expect(take(Promise.reject(new TypeError('fetch failed')))).rejects.toThrow(
      'does not answer',
    )
    expect(problemOf(502, '/api/desk', '<html>').message).toContain('What was done is kept')
  })

  it('ends the session when it has run out, but not for a wrong password', () => {
    const ended = vi.fn()
    whenSignedOut(ended)
    problemOf(401, '/api/session', null)
    expect(ended).not.toHaveBeenCalled()
    expect(problemOf(401, '/api/desk', { detail: 'Sign in first.' })).toBeInstanceOf(ApiError)
    expect(ended).toHaveBeenCalledOnce()
  })
})
