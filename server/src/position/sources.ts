import type { Movement } from '@shelve/core'

/** What was asked for of an item for a place and has not come. */
export interface Owed {
  readonly lineId: number
  readonly placeId: number
  readonly quantity: bigint
  /** When it was expected, or else asked for (`2026-11-27`). */
  readonly day: string
  /** Whether it still counts as coming. */
  readonly counts: boolean
}

/** What rooms of work add to a position: registered by compose, since they stand above. */
export interface Sources {
  /** What is owed of some items (undefined: of all), `also` with movements that are not written. */
  owed(items: readonly number[] | undefined, also?: readonly Movement[]): ReadonlyMap<number, readonly Owed[]>
}
