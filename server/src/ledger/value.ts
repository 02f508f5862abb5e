import { formatDecimal, type Movement, type Working, workOut } from '@shelve/core'
import type { House } from './house.ts'

export const stockSide = (house: House, a: number): bigint =>
  house.places.row(a) || a === house.accounts.stock ? 1n : 0n

/** What some movements changed of the value of stock. */
export const stockChange = (house: House, of: readonly Pick<Movement, 'from' | 'to' | 'value'>[]): bigint =>
  of.reduce((sum, m) => sum + m.value * (stockSide(house, m.to) - stockSide(house, m.from)), 0n)

type Moved = Pick<Movement, 'from' | 'to' | 'quantity' | 'value' | 'itemId' | 'reverses' | 'revalues'> & {
  readonly kind: string
}
/** What passes beside stock: straight to its user, from one user to another, or from one to waste. */
const BESIDE: ReadonlySet<string> = new Set(['direct', 'recharge', 'spoil'])

/** What a line of a slip is worth: what it changed in the value of stock, and what passed beside it; where another line takes its place, that alone. */
export function lineValue(house: House, moved: readonly Moved[]): Working {
  const beside = moved.filter(m => BESIDE.has(m.kind) && m.quantity > 0n)
  const stands = beside.filter(m => m.reverses === null)
  return workOut('value', [
    ...slipValue(house, moved).lines,
    ...(stands.length ? stands : beside).map(m => {
      const it = house.known.itemById(m.itemId)!
      return { label: m.kind, amount: m.value, note: `${it.name}, ${formatDecimal(m.quantity)} ${it.unit}` }
    }),
  ])
}

/** What a slip changed in the value of stock, line by line: what came in and what went out. Lists, the slip itself and the working show this one. */
export function slipValue(house: House, moved: readonly Moved[]): Working {
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
