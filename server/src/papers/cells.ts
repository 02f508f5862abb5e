/** What lies of one lot in one place. */
export interface Cell {
  readonly lotId: number
  readonly placeId: number
  readonly quantity: bigint
}

/** The name of what lies of one lot in one place. */
export const cellKey = (itemId: number, c: { lotId: number; placeId: number }): string =>
  `${itemId}.${c.lotId}.${c.placeId}`

/** What lines of a slip take from cells, or give back to them, as they are read one after the other. */
export class Planned {
  /** By item: a line looks at all that lies of its item, and most items stand on one line alone. */
  readonly #items = new Map<number, Map<string, bigint>>()

  add(itemId: number, cell: { lotId: number; placeId: number }, quantity: bigint): void {
    const cells = this.#items.get(itemId) ?? new Map<string, bigint>()
    const key = cellKey(itemId, cell)
    this.#items.set(itemId, cells.set(key, (cells.get(key) ?? 0n) + quantity))
  }
  /** How much of each cell of an item is taken; undefined where none of it is. */
  of(itemId: number): ((cell: { lotId: number; placeId: number }) => bigint) | undefined {
    const cells = this.#items.get(itemId)
    return cells && (cell => cells.get(cellKey(itemId, cell)) ?? 0n)
  }
}
