import { notFound, Refused } from '../ground/index.ts'
import type { House } from './house.ts'
import { type Action, type Caller, MAY } from './roles.ts'
import type { Scope } from './scopes.ts'

/** All places where the caller may do something. */
export function reach(house: House, caller: Caller, action: Action = 'read'): Scope {
  const grants = caller.grants.filter(g => MAY[g.role].includes(action))
  return house.places.reach(grants.some(g => g.placeId === null) ? undefined : grants.map(g => g.placeId!))
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
  // Where something of a place is reached, so is all that lies in it.
  return !valued.within || (scope.within !== undefined && scope.roots.every(p => valued.within!.has(p)))
}

/** Why somebody may not: by their role, or because nobody has shown yet that it is they. */
export const mayNot = (caller: Caller, where = ''): Refused =>
  caller.lowered
    ? new Refused(
        403,
        'password_needed',
        'By badge or PIN alone you work as keeper. Type your password for that: it is asked for under your name, at the top right.',
      )
    : new Refused(403, 'not_allowed', `As ${caller.role} you may not do that${where}. Ask a manager.`)

export function demandEverywhere(house: House, caller: Caller, action: Action): void {
  if (!mayEverywhere(house, caller, action))
    throw mayNot(caller, caller.may.has(action) ? ' for the whole organisation' : '')
}

export function demandAt(house: House, caller: Caller, action: Action, placeId: number): void {
  if (!mayAt(house, caller, action, placeId)) throw mayNot(caller, ` in ${house.places.name(placeId)}`)
}
