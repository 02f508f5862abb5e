import { type Fact, foldFacts } from '@shelve/core'
import { type SqlBooks, toMovement } from './books.ts'
import type { House } from './house.ts'

/** The facts that a booked line still stands for: those it wrote last, less what was taken back. */
export function factsOfLine(house: House, books: SqlBooks, lineId: number): Fact[] {
  const written = house.rows.writtenByLine
    .all({ line: lineId })
    .map(toMovement)
    .filter(m => m.kind !== 'difference')
  const own = new Set(written.map(m => m.seq))
  return factsAt(house, books, written).filter(f => f.quantity > 0n && own.has(f.head))
}

/** The fact at a place in the order of costing; undefined where nothing of it is left. */
export const factAt = (house: House, books: SqlBooks, key: { costSeq: number; part: number }): Fact | undefined =>
  foldFacts(
    books.movementsAt(key.costSeq).filter(m => m.kind !== 'difference'),
    a => a === house.accounts.priceDifference,
  ).find(f => f.part === key.part && f.quantity > 0n)

/** What a job or cost centre still has of an item, with how much of each line may be brought back. */
export function returnable(
  house: House,
  books: SqlBooks,
  usedAccount: number,
  itemId: number,
): { fact: Fact; free: bigint }[] {
  const taken = house.rows.takenBy.all({ account: usedAccount, item: itemId }).map(toMovement)
  return factsAt(house, books, taken)
    .filter(f => f.quantity > 0n && f.to === usedAccount)
    .map(fact => ({ fact, free: fact.quantity - books.broughtBack(fact) }))
    .filter(x => x.free > 0n)
}

/** All facts at the places in the order of costing that some movements have, as they stand now; also such as nothing is left of. */
export const factsAt = (house: House, books: SqlBooks, movements: readonly { readonly costSeq: number }[]): Fact[] =>
  [...new Set(movements.map(m => m.costSeq))].flatMap(costSeq =>
    foldFacts(books.movementsAt(costSeq), a => a === house.accounts.priceDifference),
  )
