/** Who may do what where: roles, scopes, and what a use case is handed. Knows places only as a tree. */
export { type Finders, Gate } from './gate.ts'
export { type House } from './house.ts'
export { demandAt, demandEverywhere, mayAt, mayEverywhere, mayNot, reach, scopeOf, seesValue } from './rights.ts'
export { type Action, asTaker, type Caller, callerFor, type Grant, MAY, type Role, ROLE_ORDER } from './roles.ts'
export {
  type Asking,
  Bytes,
  type Handler,
  type InSteps,
  type KnownAsking,
  type Handlers,
  type Input,
  Listable,
  NOBODY,
  paged,
  Sent,
} from './route.ts'
export { isIn, type Scope } from './scopes.ts'
export { about, shownTo } from './values.ts'
