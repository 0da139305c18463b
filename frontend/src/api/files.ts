import { client, getToken, problemOf, take, TOKEN_HEADER } from './client'
import type { Work } from './types'

const ASK_MS = 400

/**
 * Send a file with what is said of it; `onPart` hears which part of it has gone, 0 to 1, and
 * `onWork` what the server does with it then. The one request that tells how far it is.
 */
export function sendForm<Made>(
  path: string,
  file: File,
  fields: Record<string, string>,
  onPart: (part: number) => void,
  onWork: (work: Work) => void,
): Promise<Made> {
  const token = crypto.randomUUID().replaceAll('-', '')
  const asking = setInterval(() => {
    // The answer may be late or missing; the file's own answer is what counts.
    take(client.GET('/api/work/{token}', { params: { path: { token } } })).then(
      (work) => work.doing && onWork(work),
      () => undefined,
    )
  }, ASK_MS)
  const form = new FormData()
  form.append('file', file, file.name)
  form.append('work', token)
  for (const [name, text] of Object.entries(fields)) form.append(name, text)
  return post<Made>(path, form, onPart).finally(() => clearInterval(asking))
}

/** Send several small files at once. */
export function sendFiles<Made>(path: string, files: File[]): Promise<Made> {
  const form = new FormData()
  for (const file of files) form.append('file', file, file.name)
  return post<Made>(path, form, () => undefined)
}

function post<Made>(path: string, form: FormData, onPart: (part: number) => void): Promise<Made> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest()
    request.open('POST', path)
    request.setRequestHeader(TOKEN_HEADER, getToken())
    request.responseType = 'json'
    request.upload.onprogress = (event) =>
      event.lengthComputable && onPart(event.loaded / event.total)
    request.onload = () => {
      if (request.status === 201) resolve(request.response as Made)
      else reject(problemOf(request.status, path, request.response))
    }
    request.onerror = () => reject(problemOf(0, path, null))
    request.send(form)
  })
}

/** Fetch a file that is made when it is asked for, and save it; a link could not tell how far it is. */
export async function saveMade(path: string, name: string): Promise<void> {
  let answer: Response
  try {
    answer = await fetch(path)
  } catch {
    throw problemOf(0, path, null)
  }
  if (!answer.ok) throw problemOf(answer.status, path, await answer.json().catch(() => null))
  saveBlob(await answer.blob(), name)
}

/** The same for what leaves something behind, such as new links: it is sent for. */
export async function saveMadeBy(path: string, said: unknown, name: string): Promise<void> {
  let answer: Response
  try {
    answer = await fetch(path, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', [TOKEN_HEADER]: getToken() },
      body: JSON.stringify(said),
    })
  } catch {
    throw problemOf(0, path, null)
  }
  if (!answer.ok) throw problemOf(answer.status, path, await answer.json().catch(() => null))
  saveBlob(await answer.blob(), name)
}

function saveBlob(blob: Blob, name: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(blob)
  link.download = name
  link.click()
  // not at once: the browser may not have begun to read it
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000)
}
