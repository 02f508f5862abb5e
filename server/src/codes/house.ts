import type { House as Below } from '../accounts/index.ts'
import type { Rows } from './rows.ts'

/** What stands up to this room. `codeOwners` tells, for each kind of thing a code may mean, what one of them is called. */
export interface House extends Below {
  readonly rows: Below['rows'] & Rows
  readonly codeOwners: Map<string, (id: number) => string>
}
