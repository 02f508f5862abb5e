import type { Quantity } from '../quantity/micro.ts'
import type { Movement } from './types.ts'

/** What lies in a place of a lot of an item. */
export interface Cell {
  readonly itemId: number
  readonly lotId: number
  readonly placeId: number
  readonly quantity: Quantity
}

/** What lies where, as movements add up. A million of them name their cells by three numbers each, without making a text of them. */
export class Cells {
  readonly #items = new Map<number, Map<number, Map<number, Quantity>>>()
  #filled = 0
  /** How many cells hold something, be it less than nothing. */
  get filled(): number {
    return this.#filled
  }
  get(itemId: number, lotId: number, placeId: number): Quantity {
    return this.#items.get(itemId)?.get(lotId)?.get(placeId) ?? 0n
  }
  add(itemId: number, lotId: number, placeId: number, quantity: Quantity): void {
    let lots = this.#items.get(itemId)
    if (!lots) this.#items.set(itemId, (lots = new Map()))
    let places = lots.get(lotId)
    if (!places) lots.set(lotId, (places = new Map()))
    const before = places.get(placeId) ?? 0n
    const after = before + quantity
    if (before === 0n && after !== 0n) this.#filled++
    if (before !== 0n && after === 0n) this.#filled--
    places.set(placeId, after)
  }
  /** What a movement does between places. */
  move({ itemId, lotId, from, to, quantity }: Movement, isPlace: (account: number) => boolean): void {
    if (quantity === 0n) return
    if (isPlace(from)) this.add(itemId, lotId, from, -quantity)
    if (isPlace(to)) this.add(itemId, lotId, to, quantity)
  }
  /** Every cell that anything ever lay in. */
  *[Symbol.iterator](): Generator<Cell> {
    for (const [itemId, lots] of this.#items)
      for (const [lotId, places] of lots)
        for (const [placeId, quantity] of places) yield { itemId, lotId, placeId, quantity }
  }
}
