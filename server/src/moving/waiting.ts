import type { TransferRow } from '@shelve/contract'
import { type Caller, isIn, reach, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { transferRows } from './transfers.ts'

/** What comes to some places today or is late, for whoever books there; and what they sent that is late. */
export function transfersWaiting(house: House, caller: Caller, scope: Scope): TransferRow[] {
  const mine = reach(house, caller, 'book')
  const today = house.today()
  const books = (uid: string) => {
    const id = house.places.id(uid)!
    return isIn(scope, id) && isIn(mine, id)
  }
  return transferRows(house, scope, false).filter(
    t => (books(t.to.id) && (t.due === null || t.due <= today)) || (t.overdue && books(t.from.id)),
  )
}
