import type { House as CostCentres } from '../costcentres/index.ts'
import type { House as Position } from '../position/index.ts'
import type { House as Waste } from '../waste/index.ts'
import type { Hooks } from './hooks.ts'

/** What stands up to this room: everything a slip is made of, and what rooms of work want to be told of it. */
export interface House extends Position, CostCentres, Waste {
  readonly rows: Position['rows'] & CostCentres['rows'] & Waste['rows']
  readonly hooks: Hooks[]
}
