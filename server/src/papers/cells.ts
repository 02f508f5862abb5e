/** What lies of one lot in one place. */
export interface Cell {
  readonly lotId: number
  readonly placeId: number
  readonly quantity: bigint
}

/** The name of what lies of one lot in one place. */
export const cellKey = (itemId: number, c: { lotId: number; placeId: number }): string =>
  `${itemId}.${c.lotId}.${c.placeId}`
