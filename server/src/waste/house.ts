import type { House as Below } from '../papers/index.ts'
import type { Rows } from './rows.ts'

/** What stands up to this room: slips, and reasons of waste. */
export interface House extends Below {
  readonly rows: Below['rows'] & Rows
}
