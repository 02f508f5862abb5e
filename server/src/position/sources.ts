import type { Movement } from '@shelve/core'

/** What was asked for of an item for a place and has not come. */
export interface Coming {
  readonly lineId: number
  readonly placeId: number
  readonly quantity: bigint
}

/** What rooms of work add to a position: registered by compose, since they stand above. */
export interface Sources {
  /** What is on its way of some items (undefined: of all), `also` with movements that are not written. */
  coming(items: readonly number[] | undefined, also?: readonly Movement[]): ReadonlyMap<number, readonly Coming[]>
}
