import type { House as Below } from '../places/index.ts'
import type { Rows } from './rows.ts'

/** What stands up to this room: jobs and cost centres. */
export interface House extends Below {
  readonly rows: Below['rows'] & Rows
}
