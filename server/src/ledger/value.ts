import { formatDecimal, type Movement, type Working, workOut } from '@shelve/core'
import type { House } from './house.ts'

export const stockSide = (house: House, a: number): bigint =>
  house.places.row(a) || a === house.accounts.stock ? 1n : 0n

/** What a slip changed in the value of stock, line by line: what came in and what went out. Lists, the slip itself and the working show this one. */
export function slipValue(
  house: House,
  moved: readonly (Pick<Movement, 'from' | 'to' | 'quantity' | 'value' | 'itemId' | 'reverses' | 'revalues'> & {
    readonly kind: string
  })[],
): Working {
  return workOut(
    'value',
    moved.flatMap(m => {
      const amount = m.value * (stockSide(house, m.to) - stockSide(house, m.from))
      const it = house.known.itemById(m.itemId)!
      return amount === 0n
        ? []
        : [
            {
              label: m.revalues !== null ? 'revalued' : m.reverses === null ? m.kind : 'taken_back',
              amount,
              note: `${it.name}${m.quantity ? `, ${formatDecimal(m.quantity)} ${it.unit}` : ''}`,
            },
          ]
    }),
  )
}
