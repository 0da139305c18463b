import { client, take } from './client'
import { sendFiles } from './files'
import type { Mail, MailsReturned, Post } from './types'

export const lookAtPost = (): Promise<Post> => take(client.GET('/api/mail'))
export const keepServer = (
  server: Record<string, unknown>,
  password: string | null,
): Promise<Post> => take(client.PUT('/api/mail', { body: { server, password } }))
export const switchPost = (on: boolean): Promise<Post> =>
  take(client.POST('/api/mail/switch', { body: { on } }))
export const sendTest = (address: string): Promise<Post> =>
  take(client.POST('/api/mail/test', { body: { address } }))
export type MailState = '' | 'waiting' | 'sent' | 'refused' | 'unclear' | 'dropped'
export const listMails = (state: MailState, start: number): Promise<Mail[]> =>
  take(client.GET('/api/mails', { params: { query: { state, start } } })).then((made) => made.mails)
export const decideOfMails = (mails: number[], what: 'again' | 'drop'): Promise<number> =>
  take(client.POST('/api/mails/decide', { body: { mails, what } })).then((made) => made.mails)
export const mailLink = (account: number, address: string): Promise<unknown> =>
  take(
    client.POST('/api/accounts/{account_id}/link/mail', {
      params: { path: { account_id: account } },
      body: { address },
    }),
  )
export const bringReturned = (files: File[]): Promise<MailsReturned> =>
  sendFiles('/api/mails/returned', files)
