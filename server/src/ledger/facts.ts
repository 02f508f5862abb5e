import { foldFacts, type Fact } from '@shelve/core'
import type { App } from '../app.ts'
import type { SqlBooks } from './books.ts'
import { toMovement } from './books.ts'

/** The facts that a booked line still stands for: those it wrote last, less what was taken back. */
export function factsOfLine(app: App, books: SqlBooks, lineId: number): Fact[] {
  const written = app.paper.writtenByLine
    .all({ line: lineId })
    .map(toMovement)
    .filter(m => m.kind !== 'difference')
  const own = new Set(written.map(m => m.seq))
  return keysOf(written)
    .flatMap(costSeq => foldFacts(books.movementsAt(costSeq), a => a === app.accounts.priceDifference))
    .filter(f => f.quantity > 0n && own.has(f.head))
}

/** What a job or cost centre still has of an item, with how much of each line may be brought back. */
export function returnable(
  app: App,
  books: SqlBooks,
  usedAccount: number,
  itemId: number,
): { fact: Fact; free: bigint }[] {
  const taken = app.paper.takenBy.all({ account: usedAccount, item: itemId }).map(toMovement)
  return keysOf(taken)
    .flatMap(costSeq => foldFacts(books.movementsAt(costSeq), a => a === app.accounts.priceDifference))
    .filter(f => f.quantity > 0n && f.to === usedAccount)
    .map(fact => ({ fact, free: fact.quantity - books.broughtBack(fact) }))
    .filter(x => x.free > 0n)
}
const keysOf = (movements: { costSeq: number }[]): number[] => [...new Set(movements.map(m => m.costSeq))]
