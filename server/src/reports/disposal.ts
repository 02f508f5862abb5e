import type { Disposal } from '@shelve/contract'
import { formatDecimal, gramsOf, groupBy } from '@shelve/core'
import type { Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { wastedByItem } from './wasted.ts'

const d = formatDecimal
/** What was wasted in a span of months by its waste code, for whoever disposes of it; last what has none. */
export function disposalList(house: House, scope: Scope, q: { from: string; to: string }): Disposal {
  const items = [...wastedByItem(house, scope, q)]
    .filter(([, { quantity }]) => quantity > 0n)
    .map(([id, { quantity }]) => {
      const it = house.known.itemById(id)!
      return { it, quantity, grams: gramsOf(quantity, house.known.measure(it), it.mass) }
    })
    .sort((a, b) => a.it.name.localeCompare(b.it.name, 'en'))
  const text = (code: string) => code || '\uffff'
  return {
    rows: [...groupBy(items, i => i.it.wasteCode)]
      .sort(([a], [b]) => text(a).localeCompare(text(b), 'en'))
      .map(([code, of]) => ({
        code,
        // What is not known of one of them is not known of all of it.
        grams: of.every(i => i.grams !== null) ? d(of.reduce((sum, i) => sum + i.grams!, 0n)) : null,
        items: of.map(({ it, quantity, grams }) => ({
          id: it.uid,
          code: it.code,
          name: it.name,
          unit: it.unit,
          quantity: d(quantity),
          grams: grams === null ? null : d(grams),
        })),
      })),
  }
}
