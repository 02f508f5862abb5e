/** Who may do what where: roles, scopes, and what a use case is handed. Knows places only as a tree. */
export { type House } from './house.ts'
export {
  type Caller,
  callerFor,
  demandAt,
  demandEverywhere,
  type Grant,
  MAY,
  mayAt,
  mayEverywhere,
  reach,
  type Role,
  ROLE_ORDER,
  scopeOf,
  seesValue,
} from './rights.ts'
export { Bytes, type Handler, type Handlers, type Input, Sent } from './route.ts'
export { isIn, type Scope } from './scopes.ts'
