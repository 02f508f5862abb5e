import type { House as Notices } from '../notices/index.ts'
import type { House as Papers } from '../papers/index.ts'
import type { Rows } from './rows.ts'

/** What stands up to this room. */
export interface House extends Papers, Notices {
  readonly rows: Papers['rows'] & Rows
}
