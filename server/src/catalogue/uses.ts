import type { CostMethod } from '@shelve/core'

/**
 * What the catalogue must know of the ledger that stands above it, and what the ledger opens for an item: registered by
 * compose, so that no arrow points up.
 */
export interface Uses {
  /** Whether anything of an item ever moved: then its unit is frozen. */
  hasMoved(itemId: number): boolean
  /** Of some items at once: the method each is costed by now, and whether anything of it ever moved. */
  standing(
    items: readonly number[],
  ): ReadonlyMap<
    number,
    { readonly method: CostMethod; readonly standard: bigint; readonly moved: boolean; readonly lies: boolean }
  >
  /** Somewhere where something of it lies; undefined where nothing does. */
  lies(itemId: number): { readonly placeId: number; readonly quantity: bigint } | undefined
  /** On how many slips that are not booked yet it stands. */
  onDrafts(itemUid: string): number
  openPool(itemId: number, method: CostMethod, standard: bigint): void
  restampPool(itemId: number, method: CostMethod, standard: bigint): void
  changePools(itemId: number, method: CostMethod, standard: bigint): void
  /** The places where something of a lot lies. */
  lotLies(itemId: number, lotId: number): readonly number[]
  /** A lot was made: where its item is costed by actual lot it gets a pool of its own. */
  lotMade(itemId: number, lotId: number): void
}
