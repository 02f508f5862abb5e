import type { House } from './house.ts'

/** What an account is called on paper. */
export function accountName(house: House, id: number, row?: { kind: string; name: string }): string {
  if (house.places.row(id)) return house.places.name(id)
  const a = row ?? house.rows.account.get({ id })
  if (!a) return '?'
  const plain: Record<string, string> = {
    stock: 'stock',
    price_difference: 'price difference',
    loss: 'unexplained loss',
    gain: 'unexplained gain',
    opening: 'opening',
    made: 'made',
    relabel: 'relabel',
    difference: 'open difference',
  }
  return plain[a.kind] ?? a.name
}
