import type { House as Counting } from '../counting/index.ts'
import type { House as Restocking } from '../restocking/index.ts'
import type { House as Waste } from '../waste/index.ts'
import type { Charged } from './charged.ts'
import type { Flows } from './flows.ts'

/** What stands up to this room: the whole house, and sums by month in memory. */
export interface House extends Counting, Restocking, Waste {
  readonly rows: Counting['rows'] & Waste['rows']
  readonly flows: Flows
  readonly charged: Charged
}
