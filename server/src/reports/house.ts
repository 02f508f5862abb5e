import type { House as Counting } from '../counting/index.ts'
import type { House as Restocking } from '../restocking/index.ts'
import type { Flows } from './flows.ts'

/** What stands up to this room: the whole house, and sums by month in memory. */
export interface House extends Counting, Restocking {
  readonly rows: Counting['rows']
  readonly flows: Flows
}
