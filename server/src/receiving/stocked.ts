import type { StockedItemInput } from '@shelve/contract'
import { createItem } from '../catalogue/index.ts'
import { Refused } from '../ground/index.ts'
import { setLevel } from '../position/index.ts'
import type { Caller } from '../rights/index.ts'
import type { House } from './house.ts'
import { bookOpenings } from './opening.ts'

/**
 * Makes an item with its levels, and books what of it lies there already: one slip of opening stock for each place. Runs in
 * one transaction: whatever is refused, nothing of it is there. A refusal names the row that it is about (`stock.1.typed`).
 */
export function createStocked(house: House, caller: Caller, { stock, ...input }: StockedItemInput): number {
  const id = createItem(house, input)
  // What is kept in memory of set-up does not know it yet.
  house.forget({ items: [id] })
  const item = house.rows.itemById.get({ id })!.uid
  stock.forEach(({ place, minimum, target, bin }, i) => {
    if (minimum === null && target === null && bin === null) return
    if (stock.findIndex(s => s.place === place && (s.minimum ?? s.target ?? s.bin) !== null) < i)
      throw refusedAt(i, 'place', 'levels_twice', 'The levels of this place are said in an earlier row.')
    inRow(i, () => setLevel(house, { item, place, minimum, target, bin }))
  })
  const lies = stock.map((s, row) => ({ ...s, item, row })).filter(s => s.typed.trim() !== '')
  bookOpenings(house, caller, lies, ({ row }, why) => {
    throw refusedAt(row, why.field ?? 'typed', why.code, why.message)
  })
  return id
}

function refusedAt(row: number, field: string, code: string, message: string, status = 422): Refused {
  return new Refused(status, code, message, [{ field: `stock.${row}.${field}`, code, message }])
}
/** What is refused of a row names it. */
function inRow(row: number, run: () => void): void {
  try {
    run()
  } catch (e) {
    if (!(e instanceof Refused)) throw e
    throw refusedAt(row, e.fields[0]?.field ?? 'place', e.code, e.message, e.status)
  }
}
