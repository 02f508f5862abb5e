import type { House as CostCentres } from '../costcentres/index.ts'
import type { House as Position } from '../position/index.ts'
import type { Hooks } from './hooks.ts'

/** What reading a slip stands on: everything that a slip is made of. */
export interface Base extends Position, CostCentres {
  readonly rows: Position['rows'] & CostCentres['rows']
  readonly hooks: Hooks[]
}
