import type { House as Below } from '../codes/index.ts'
import type { PlaceTree } from './tree.ts'

/** What stands up to this room: the tree of places. */
export interface House extends Below {
  readonly places: PlaceTree
}
