import type { Movement, OpenNeed, Reservation } from '@shelve/core'

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

/** What a job will bring: its output, on its day. */
export interface Made {
  readonly jobId: number
  readonly placeId: number
  readonly quantity: bigint
  readonly day: string
  /** Whether it still counts as coming. */
  readonly counts: boolean
}
/** What jobs want of an item, what is kept for them, and what they will bring of it. */
export interface Demand {
  readonly needs: readonly OpenNeed[]
  readonly reservations: readonly Reservation[]
  readonly made: readonly Made[]
}
export const NO_DEMAND: Demand = { needs: [], reservations: [], made: [] }

/** What rooms of work add to a position: registered by compose, since they stand above. */
export interface Sources {
  /** What is owed of some items (undefined: of all), `also` with movements that are not written. */
  owed(items: readonly number[] | undefined, also?: readonly Movement[]): ReadonlyMap<number, readonly Owed[]>
  /** The same of what jobs want and bring. */
  demand(items: readonly number[] | undefined, also?: readonly Movement[]): ReadonlyMap<number, Demand>
  /** The needs of a job, by item. */
  needs(jobId: number): ReadonlyMap<number, number>
  /** Where what was picked for a job lies; undefined where nothing ever was. */
  withJob(jobId: number): number | undefined
  /** The job with which a place is. */
  jobWith(placeId: number): number | undefined
}
