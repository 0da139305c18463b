import { client, take } from './client'
import type { Created, GroupKind, Groups, Members, RuleIn, Rules, Spread, SpreadIn } from './types'

const of = (name: string, kind: string) => ({ name, kind })

export const listKinds = async (): Promise<GroupKind[]> =>
  (await take(client.GET('/api/groups'))).kinds
export const getGroups = (name: string, kind: string, day: string): Promise<Groups> =>
  take(
    client.GET('/api/groups/{name}/{kind}', {
      params: { path: of(name, kind), query: day ? { day } : {} },
    }),
  )
export const getMembers = (
  name: string,
  kind: string,
  key: string[],
  day: string,
): Promise<Members> =>
  take(
    client.GET('/api/groups/{name}/{kind}/members', {
      params: { path: of(name, kind), query: { key, ...(day ? { day } : {}) } },
    }),
  )
export const askSpread = (name: string, kind: string, asked: SpreadIn): Promise<Spread> =>
  take(
    client.POST('/api/groups/{name}/{kind}/spread', {
      params: { path: of(name, kind) },
      body: asked,
    }),
  )
export const place = (
  name: string,
  kind: string,
  moves: Record<string, string>,
  is_spread: boolean,
  leaving: Record<string, string> = {},
): Promise<Created> =>
  take(
    client.POST('/api/groups/{name}/{kind}/place', {
      params: { path: of(name, kind) },
      body: { moves, is_spread, leaving },
    }),
  )

export const confirmMembers = (name: string, kind: string, key: string[], records: number[]) =>
  take(
    client.POST('/api/groups/{name}/{kind}/confirm', {
      params: { path: of(name, kind) },
      body: { key, records },
    }),
  )
export const getRules = (name: string): Promise<Rules> =>
  take(client.GET('/api/groups/{name}/rules', { params: { path: { name } } }))
export const tryRules = (name: string, rules: RuleIn[]): Promise<Rules> =>
  take(client.POST('/api/groups/{name}/rules/try', { params: { path: { name } }, body: { rules } }))
export const runRules = (name: string): Promise<Created> =>
  take(client.POST('/api/groups/{name}/rules/run', { params: { path: { name } } }))
