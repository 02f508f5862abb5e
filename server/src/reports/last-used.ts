import { iso, once } from '../ground/index.ts'
import { takerText, TAKEN_BACK } from '../ledger/index.ts'
import { accountName } from '../places/index.ts'
import { isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'

interface Use {
  readonly lotId: number
  readonly fromId: number
  readonly toId: number
  readonly at: number
  readonly taker: string
  readonly by: string
  readonly slip: string
  readonly number: string
}

/** By whom, for what and when something of some lots was last handed out where the caller may look; by lot. */
export function lastUsed(house: House, lots: readonly number[], scope: Scope) {
  return new Map(
    lots.flatMap(id => {
      // From the last on, as far as the first that may be seen: a lot may have been used thousands of times.
      for (const r of statement(house).iterate(id) as Iterable<Use>)
        if (isIn(scope, r.fromId))
          return [
            [
              r.lotId,
              {
                by: r.taker || r.by,
                what: accountName(house, r.toId),
                at: iso(r.at),
                slip: { id: r.slip, number: r.number },
              },
            ] as const,
          ]
      return []
    }),
  )
}
const statement = once((house: House) =>
  house.store.client
    .prepare(
      `select m.lot_id as lotId, m.from_id as fromId, m.to_id as toId, m.effective_at as at, p.name as by,
         ${takerText('m.line_id', 's.taker')} as taker,
         s.uid as slip, s.number
       from lot l join movement m on m.item_id = l.item_id and m.lot_id = l.id
         join account a on a.id = m.to_id and a.kind in ('used', 'made')
         join slip s on s.id = m.slip_id join person p on p.id = m.booked_by
       where l.id = ? and m.quantity > 0 and m.reverses is null
         and not ${TAKEN_BACK}
       order by m.effective_at desc, m.seq desc`,
    )
    .safeIntegers(false),
)
