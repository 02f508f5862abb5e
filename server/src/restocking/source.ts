import type { RestockView } from '@shelve/contract'
import type { House } from './house.ts'

export type Source = RestockView['source']
/** Whence something is asked for, as it is told: from how it is kept. */
export function sourceView(house: House, kind: Source['kind'], id: number | null): { source: Source; name: string } {
  if (kind === 'shelves' && id !== null)
    return { source: { kind, id: house.places.row(id)!.uid }, name: house.places.name(id) }
  if (kind === 'supplier' && id !== null)
    return {
      source: { kind, id: house.rows.supplierUid.get({ id })!.uid },
      name: house.rows.account.get({ id })!.name,
    }
  return { source: { kind: 'nobody', id: null }, name: 'Nobody yet' }
}
