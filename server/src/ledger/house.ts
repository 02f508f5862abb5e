import type { House as Catalogue } from '../catalogue/index.ts'
import type { House as Suppliers } from '../suppliers/index.ts'
import type { Trials } from './memory.ts'
import type { Rows } from './rows.ts'
import type { Rules } from './rules.ts'
import type { LedgerStatements } from './statements.ts'

/** What stands up to this room: the books. */
export interface House extends Catalogue, Suppliers {
  readonly rows: Catalogue['rows'] & Suppliers['rows'] & Rows
  readonly ledger: LedgerStatements
  readonly rules: Rules
  readonly trials: Trials
  /** How far the last checkpoint reaches, and how many rows it has. */
  lastCheckpoint: { readonly seq: number; readonly rows: number }
}
