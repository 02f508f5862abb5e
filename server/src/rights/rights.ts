import type { Person } from '@shelve/contract'
import { notFound, Refused } from '../ground/index.ts'
import type { House } from './house.ts'
import type { Scope } from './scopes.ts'

export type Role = Person['role']

/** What can be allowed. `read` comes with every role. */
export const ACTIONS = [
  'read',
  'ask',
  'book',
  'reverse',
  'override',
  'review',
  'see_value',
  'set_up',
  'close_month',
  'approve',
] as const

export type Action = (typeof ACTIONS)[number]

/** Who may do what: the one table, shown in Set-up and tested route by route. Highest first. */
export const MAY: Readonly<Record<Role, readonly Action[]>> = {
  manager: ACTIONS,
  keeper: ['read', 'ask', 'book', 'reverse', 'review', 'see_value'],
  buyer: ['read', 'ask', 'see_value'],
  observer: ['read', 'see_value'],
  requester: ['read', 'ask'],
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
}

export function callerFor(
  row: { id: number; uid: string; name: string; signIn: string; expiresAt: number; session: string },
  grants: readonly Grant[],
): Caller {
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
  }
}

/** All places where the caller may do something. */
export function reach(house: House, caller: Caller, action: Action = 'read'): Scope {
  const grants = caller.grants.filter(g => MAY[g.role].includes(action))
  return house.places.scope(grants.some(g => g.placeId === null) ? undefined : grants.map(g => g.placeId!))
}

export const mayAt = (house: House, caller: Caller, action: Action, placeId: number): boolean =>
  reach(house, caller, action).within?.has(placeId) ?? caller.may.has(action)

/** Whether something may be done wherever it is: set-up of the whole organisation, the whole ledger. */
export const mayEverywhere = (house: House, caller: Caller, action: Action): boolean =>
  caller.may.has(action) && reach(house, caller, action).within === undefined

/**
 * The places a question of the caller is about: the named one as far as they may look into it, or all they may see. What
 * they may not see is not found.
 */
export function scopeOf(house: House, caller: Caller, placeUid: string | undefined): Scope {
  const seen = reach(house, caller)
  if (placeUid === undefined) return seen
  const id = house.places.id(placeUid)
  if (id === undefined) throw notFound('place')
  if (!seen.within || seen.within.has(id)) return house.places.scope([id])
  const inside = caller.grants.flatMap(g =>
    g.placeId !== null && house.places.within(id).has(g.placeId) ? [g.placeId] : [],
  )
  if (!inside.length) throw notFound('place')
  return house.places.scope([...new Set(inside)])
}

/** Whether values may be shown for all of a scope. */
export function seesValue(house: House, caller: Caller, scope: Scope): boolean {
  const valued = reach(house, caller, 'see_value')
  if (!caller.may.has('see_value')) return false
  return !valued.within || (scope.within !== undefined && [...scope.within].every(p => valued.within!.has(p)))
}

export function demandEverywhere(house: House, caller: Caller, action: Action): void {
  if (!mayEverywhere(house, caller, action))
    throw new Refused(
      403,
      'not_allowed',
      `As ${caller.role} you may not do that${caller.may.has(action) ? ' for the whole organisation' : ''}. Ask a manager.`,
    )
}

export function demandAt(house: House, caller: Caller, action: Action, placeId: number): void {
  if (!mayAt(house, caller, action, placeId))
    throw new Refused(
      403,
      'not_allowed',
      `As ${caller.role} you may not do that in ${house.places.name(placeId)}. Ask a manager.`,
    )
}
