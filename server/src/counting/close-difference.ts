import type { SlipLine } from '@shelve/contract'
import { differenceAccount } from '../ledger/index.ts'
import type { Reading } from '../papers/index.ts'

/** An open difference is closed, or some of it found again. */
export function closeDifference(r: Reading, line: SlipLine): void {
  const tally = line.difference === null ? undefined : r.house.rows.tally.get({ uid: line.difference })
  if (!tally) return r.no(line, 'no_such_difference', 'difference')
  const item = r.house.known.itemById(tally.itemId)!
  const base = {
    lineId: r.id(line),
    itemId: tally.itemId,
    lotId: tally.lotId,
    from: differenceAccount(tally.id),
    tallyId: tally.id,
  }
  if (line.act === 'found') {
    const quantity = r.quantity(line, item)
    const to = line.to === null ? tally.placeId : r.place(line, line.to, 'to')
    if (quantity !== undefined && to !== undefined) r.lines.push({ ...base, to, quantity })
  } else r.lines.push({ ...base, to: r.house.accounts.loss, quantity: 0n })
}
