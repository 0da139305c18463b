import { client, take } from './client'
import { saveMadeBy } from './files'
import type {
  LetterBrief,
  LetterIn,
  LetterOpen,
  LetterOut,
  LetterPrintLook,
  LetterSent,
  LetterText,
  LetterToRecord,
  Own,
  OwnAnswered,
  PasswordPlace,
} from './types'

export type Silent = 'paper' | 'silent'
const of = (letter: number) => ({ path: { letter_id: letter } })

export const lookAtLetter = (name: string, letter: LetterIn): Promise<LetterOut> =>
  take(client.POST('/api/rosters/{name}/letter/look', { params: { path: { name } }, body: letter }))
export const sendLetter = (
  name: string,
  letter: LetterIn,
  seen: number,
  once: string,
): Promise<LetterSent> =>
  take(
    client.POST('/api/rosters/{name}/letter', {
      params: { path: { name } },
      body: { ...letter, seen, once },
    }),
  )
export const listLetters = (name: string): Promise<LetterBrief[]> =>
  take(client.GET('/api/rosters/{name}/letters', { params: { path: { name } } })).then(
    (found) => found.letters,
  )
export const getLetter = (letter: number, part: string, start: number): Promise<LetterOpen> =>
  take(
    client.GET('/api/letters/{letter_id}', { params: { ...of(letter), query: { part, start } } }),
  )
export const lookAtReminder = (letter: number, text: LetterText): Promise<LetterOut> =>
  take(client.POST('/api/letters/{letter_id}/remind/look', { params: of(letter), body: text }))
export const sendReminder = (
  letter: number,
  text: LetterText,
  seen: number,
  once: string,
): Promise<LetterSent> =>
  take(
    client.POST('/api/letters/{letter_id}/remind', {
      params: of(letter),
      body: { ...text, seen, once },
    }),
  )
export const endLetter = (letter: number): Promise<unknown> =>
  take(client.POST('/api/letters/{letter_id}/end', { params: of(letter) }))
export const takeIn = (letter: number): Promise<number | null> =>
  take(client.POST('/api/letters/{letter_id}/take', { params: of(letter) })).then(
    (made) => made.intake,
  )
export const lookAtPrinting = (letter: number, who: Silent): Promise<LetterPrintLook> =>
  take(client.GET('/api/letters/{letter_id}/print', { params: { ...of(letter), query: { who } } }))
export const printLetter = (
  letter: number,
  who: Silent,
  paper: 'A4' | 'Letter',
  work: string,
): Promise<void> =>
  saveMadeBy(`/api/letters/${letter}/print`, { who, paper, work }, `letter ${letter}.pdf`)
export const lettersTo = (record: number): Promise<LetterToRecord[]> =>
  take(
    client.GET('/api/records/{record_id}/letters', { params: { path: { record_id: record } } }),
  ).then((found) => found.letters)
export const lookAtOwn = (token: string, proof: string): Promise<Own> =>
  take(client.POST('/api/own/look', { body: { token, proof } }))
export const answerOwn = (
  token: string,
  proof: string,
  said: Record<string, string>,
  password: string,
): Promise<OwnAnswered> =>
  take(client.POST('/api/own/answer', { body: { token, proof, said, password } }))
export const listPasswordPlaces = (name: string): Promise<PasswordPlace[]> =>
  take(client.GET('/api/rosters/{name}/letters/places', { params: { path: { name } } })).then(
    (found) => found.places,
  )
