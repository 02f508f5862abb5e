import type { House as Below } from '../accounts/index.ts'

/** What stands up to this room. `codeOwners` tells, for each kind of thing a code may mean, what one of them is called. */
export interface House extends Below {
  readonly codeOwners: Map<string, (id: number) => string>
}
