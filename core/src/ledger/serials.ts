import { ONE } from '../quantity/micro.ts'
import { groupBy } from '../group-by.ts'
import { lowestSince } from './timeline.ts'
import type { Movement } from './types.ts'
import type { Work } from './work.ts'

/**
 * A serial number is 0 or 1 over all places at every minute, whatever moves it (rule 51): a delivery, something taken back,
 * a count, a find. Judged once, at the end of the slip, on everything that ever moved it.
 */
export function judgeSerials(work: Work): void {
  const moved = groupBy(
    work.pending.filter(m => m.quantity > 0n && work.books.item(m.itemId)?.identifiedBy === 'serial'),
    m => m.lotId,
  )
  for (const [lotId, own] of moved) {
    const { itemId } = own[0]!
    const pools = new Set([work.books.poolOf(itemId, lotId), ...own.map(m => m.poolId)])
    const before = [...pools].flatMap(id => work.books.poolMovements(id)).filter(m => m.lotId === lotId)
    if (!twiceThere(work, [...before, ...own])) continue
    const comes = own.findLast(m => work.isPlace(m.to) && !work.isPlace(m.from)) ?? own.at(-1)!
    const there = work.books.lotBalances(itemId).find(b => b.lotId === lotId && b.quantity > 0n)
    work.refuse('serial_already_here', comes.lineId, 'lot', {
      serial: work.books.lot(lotId)?.code ?? null,
      place: there?.placeId ?? comes.to,
    })
  }
}

/** Whether more than one is there at the end of any minute. */
function twiceThere(work: Work, movements: readonly Movement[]): boolean {
  const there = (account: number, quantity: bigint) => (work.isPlace(account) ? quantity : 0n)
  // The highest is the lowest of the opposite.
  const steps = movements.map(m => ({ at: m.effectiveAt, delta: there(m.from, m.quantity) - there(m.to, m.quantity) }))
  return lowestSince(steps, -Infinity).quantity < -ONE
}
