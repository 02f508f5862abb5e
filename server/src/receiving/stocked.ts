import { asWasSaid, type SlipContent, type StockedItemInput } from '@shelve/contract'
import { groupBy } from '@shelve/core'
import { createItem } from '../catalogue/index.ts'
import { Refused } from '../ground/index.ts'
import { bookNow, NotBooked } from '../papers/index.ts'
import { setLevel } from '../position/index.ts'
import type { Caller } from '../rights/index.ts'
import type { House } from './house.ts'

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
  const rows = stock.map((s, row) => ({ ...s, row })).filter(s => s.typed.trim() !== '')
  for (const [place, here] of groupBy(rows, r => r.place)) {
    const lines = here.map(r => ({ ...r, id: house.uid() }))
    const content: SlipContent = asWasSaid({
      kind: 'opening',
      place,
      lines: lines.map(r => ({
        id: r.id,
        item,
        typed: r.typed,
        price: r.price,
        ...(r.lot && { lot: { id: null, ...r.lot } }),
      })),
    })
    try {
      bookNow(house, caller, house.uid(), content)
    } catch (e) {
      if (!(e instanceof NotBooked)) throw e
      const first = e.refusals[0]!
      const line = lines.find(l => l.id === first.line) ?? lines[0]!
      throw refusedAt(line.row, first.field ?? 'typed', first.code, first.message)
    }
  }
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
