/** What lies of one lot in one place. */
export interface Cell {
  readonly lotId: number
  readonly placeId: number
  readonly quantity: bigint
}
/** The name of what lies of one lot in one place. */
export const cellKey = (itemId: number, c: { lotId: number; placeId: number }): string =>
  `${itemId}.${c.lotId}.${c.placeId}`
/** A lot as the order of going is decided: first expired first out, then the oldest. */
export const sortable = (l: {
  id: number
  held: string
  expiry: string | null
  receivedAt: number
  openedAt: number | null
}) => ({ id: l.id, held: l.held as 'usable', expiry: l.expiry, received: l.receivedAt, opened: l.openedAt !== null })
