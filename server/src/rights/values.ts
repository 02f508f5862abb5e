import type { z } from 'zod'
import { withoutValues } from '@shelve/contract'
import type { House } from './house.ts'
import { seesValue } from './rights.ts'
import type { Caller } from './roles.ts'
import type { Scope } from './scopes.ts'

const ABOUT = Symbol('about')
type Placed = { readonly [ABOUT]?: Scope }

/**
 * Says which places an object of an answer is about, for the values that it and what lies in it show. An object that
 * says nothing is about what the one around it is about; an answer of which nothing is said, about every place.
 */
export function about<T extends object>(scope: Scope, object: T): T {
  Object.defineProperty(object, ABOUT, { value: scope, enumerable: false, configurable: true })
  return object
}
export const aboutOf = (object: object): Scope | undefined => (object as Placed)[ABOUT]

/** An answer as the caller may have it: without values of places where they may not see any. */
export function shownTo<T>(house: House, caller: Caller | undefined, schema: z.ZodType, answer: T): T {
  const everywhere = caller !== undefined && seesValue(house, caller, house.places.scope())
  if (everywhere) return answer
  return withoutValues(schema, answer, (object, around) => {
    const scope = aboutOf(object)
    return scope === undefined ? around : caller === undefined || !seesValue(house, caller, scope)
  })
}
