import type { House as Below } from '../codes/index.ts'
import type { PlaceTree } from './tree.ts'

/** What stands up to this room: the tree of places. */
export interface House extends Below {
  readonly places: PlaceTree
  /** Where something lies with a job, or will since it is not over: registered by compose, for whoever knows stands above. */
  readonly crates: () => Promise<ReadonlySet<number>>
}
