import type { House as Below } from '../places/index.ts'
import type { Attempts } from './attempts.ts'
import type { Rows } from './rows.ts'

/** What stands up to this room: who there is, and who asks. */
export interface House extends Below {
  readonly rows: Below['rows'] & Rows
  readonly attempts: Attempts
}
