import type { Ground } from '../ground/index.ts'
import type { Gate } from './gate.ts'
import type { Tree } from './scopes.ts'

/** What stands up to this room: the ground, the gate, and whatever knows how places lie in each other. */
export interface House extends Ground {
  readonly places: Tree
  readonly gate: Gate
}
