import { Action, type Person } from '@shelve/contract'

export type { Action }

export type Role = Person['role']

/** What can be allowed, as the contract lists it. `read` comes with every role. */
export const ACTIONS = Action.options

/** Who may do what: the one table, shown in Set-up and tested route by route. Highest first. */
export const MAY: Readonly<Record<Role, readonly Action[]>> = {
  manager: ACTIONS,
  keeper: ['read', 'ask', 'take', 'order', 'book', 'reverse', 'see_value'],
  buyer: ['read', 'ask', 'order', 'see_value'],
  observer: ['read', 'see_value'],
  requester: ['read', 'ask', 'take'],
}

export const ROLE_ORDER = Object.keys(MAY) as Role[]

/** A role over a place and all that lies in it; null: over every place. */
export interface Grant {
  readonly role: Role
  readonly placeId: number | null
}

/** Who is asking. `may` is what they may do anywhere at all; where, the functions below say. */
export interface Caller {
  readonly id: number
  readonly uid: string
  readonly name: string
  readonly signIn: string
  readonly role: Role
  readonly grants: readonly Grant[]
  readonly may: ReadonlySet<Action>
  readonly expiresAt: number
  readonly session: string
  /** A manager who came by badge or PIN alone: what is beyond a keeper needs the password. */
  readonly lowered: boolean
}

/**
 * Somebody who takes from an open shelf themselves: for that one slip they book in its area. What they are told of it is by
 * their own rights.
 */
export const asTaker = (caller: Caller, area: number): Caller => ({
  ...caller,
  grants: [...caller.grants, { role: 'keeper', placeId: area }],
  may: new Set<Action>([...caller.may, 'book', 'reverse']),
})

export function callerFor(
  row: {
    id: number
    uid: string
    name: string
    signIn: string
    expiresAt: number
    session: string
    strong: boolean
  },
  given: readonly Grant[],
): Caller {
  const grants = row.strong ? given : given.map(g => (g.role === 'manager' ? { ...g, role: 'keeper' as const } : g))
  const role = ROLE_ORDER.find(r => grants.some(g => g.role === r)) ?? 'requester'
  return {
    id: row.id,
    uid: row.uid,
    name: row.name,
    signIn: row.signIn,
    role,
    grants,
    may: new Set(grants.flatMap(g => MAY[g.role])),
    expiresAt: row.expiresAt,
    session: row.session,
    lowered: !row.strong && given.some(g => g.role === 'manager'),
  }
}
