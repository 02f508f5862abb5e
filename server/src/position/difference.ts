import { and, eq, sql } from 'drizzle-orm'
import type { WorkingView } from '@shelve/contract'
import { deltaIn, difference, workOut } from '@shelve/core'
import { notFound } from '../ground/index.ts'
import { differenceAccount, movement, movementColumns, toMovement } from '../ledger/index.ts'
import { isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { viewOf } from './views.ts'

/** A difference: what was counted, what was expected at that minute, and what was done about it since. */
export function differenceWorking(house: House, scope: Scope, uid: string | undefined): WorkingView {
  const t = uid === undefined ? undefined : house.rows.tally.get({ uid })
  if (!t || !isIn(scope, t.placeId)) throw notFound('difference')
  const it = house.known.itemById(t.itemId)!
  const moved = house.db
    .select(movementColumns)
    .from(movement)
    .where(and(eq(movement.tallyId, t.id), sql`${movement.quantity} > 0`))
    .orderBy(movement.seq)
    .all()
    .map(toMovement)
  const own = moved.filter(m => m.kind === 'difference' && m.ord === 0).reduce((s, m) => s + deltaIn(m, t.placeId), 0n)
  const later = moved.filter(m => m.kind !== 'difference' || m.ord !== 0)
  const account = differenceAccount(t.id)
  return viewOf(
    house,
    `Difference in ${house.places.name(t.placeId)}`,
    it.unit,
    workOut('quantity', [
      ...difference({ counted: t.counted, expected: t.counted - own, at: t.countedAt }).lines,
      ...later.map(m => ({
        label: m.kind === 'difference' ? 'late_slip' : m.reverses === null ? m.kind : 'taken_back',
        amount: (m.from === account ? m.quantity : 0n) - (m.to === account ? m.quantity : 0n),
        at: m.effectiveAt,
        ref: { kind: 'slip' as const, id: m.slipId },
      })),
    ]),
  )
}
