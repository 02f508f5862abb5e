import type { House as Below } from '../rights/index.ts'
import type { FixedAccounts } from './fixed.ts'
import type { Rows } from './rows.ts'

/** What stands up to this room: an account, and those that every organisation has one of. */
export interface House extends Below {
  readonly rows: Rows
  readonly accounts: FixedAccounts
}
