import { client, take } from './client'
import type {
  AccountIn,
  Accounts,
  FirstLook,
  LinkLook,
  LinkMade,
  Program,
  TokenMade,
} from './types'

const at = (account_id: number) => ({ params: { path: { account_id } } })

export const listAccounts = (): Promise<Accounts> => take(client.GET('/api/accounts'))
export const inviteAccount = (sign_in: string, may: AccountIn): Promise<LinkMade> =>
  take(client.POST('/api/accounts', { body: { ...may, sign_in } }))
export const endSecondOf = (account_id: number) =>
  take(
    client.POST('/api/accounts/{account_id}/second-step-off', { params: { path: { account_id } } }),
  )
export const putAccount = (id: number, may: AccountIn) =>
  take(client.PUT('/api/accounts/{account_id}', { ...at(id), body: may }))
export const makeLink = (id: number): Promise<LinkMade> =>
  take(client.POST('/api/accounts/{account_id}/link', at(id)))
export const closeAccount = (id: number) =>
  take(client.POST('/api/accounts/{account_id}/close', at(id)))
export const openAccount = (id: number) =>
  take(client.POST('/api/accounts/{account_id}/open', at(id)))
export const signOutAccount = (id: number) =>
  take(client.POST('/api/accounts/{account_id}/sign-out', at(id)))
export const listPrograms = async (): Promise<Program[]> =>
  (await take(client.GET('/api/programs'))).programs
export const addProgram = (may: AccountIn, token_until: string | null): Promise<TokenMade> =>
  take(client.POST('/api/programs', { body: { ...may, token_until } }))
export const makeToken = (id: number, token_until: string | null): Promise<TokenMade> =>
  take(client.POST('/api/programs/{account_id}/tokens', { ...at(id), body: { token_until } }))
export const endToken = (account_id: number, token_id: number) =>
  take(
    client.DELETE('/api/programs/{account_id}/tokens/{token_id}', {
      params: { path: { account_id, token_id } },
    }),
  )
export const putInstitution = (name: string, colour: string) =>
  take(client.PUT('/api/institution', { body: { name, colour } }))
export const putPassword = (old: string, fresh: string) =>
  take(client.PUT('/api/session/password', { body: { old, new: fresh } }))
export const getFirst = (): Promise<FirstLook> => take(client.GET('/api/links/first'))
export const lookAtLink = (token: string): Promise<LinkLook> =>
  take(client.POST('/api/links/look', { body: { token } }))
export const useLink = (body: {
  token: string
  password: string
  sign_in: string
  name: string
  institution: string
}): Promise<{ sign_in: string }> => take(client.POST('/api/links/use', { body }))
