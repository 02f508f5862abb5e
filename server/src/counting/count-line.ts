import type { SlipLine } from '@shelve/contract'
import { expectedAt, formatDecimal, readMoney } from '@shelve/core'
import type { ItemRow } from '../catalogue/index.ts'
import { differenceAccount } from '../ledger/index.ts'
import type { Reading } from '../papers/index.ts'

/** One counted line: what was expected there at its minute, whether the two agree, and a tally of it. */
export function countLine(r: Reading, line: SlipLine): void {
  if (line.counted === 'not') return
  const item = r.item(line)
  const placeId = line.from === null ? r.area() : r.place(line, line.from, 'from')
  if (!item || placeId === undefined) return
  const at = Math.min(
    line.countedAt === null
      ? r.content.effectiveAt === null
        ? r.house.now()
        : Date.parse(r.content.effectiveAt)
      : Date.parse(line.countedAt),
    r.house.now(),
  )
  if (
    item.identifiedBy !== 'quantity' &&
    !line.lot?.id &&
    !line.lot?.code.trim() &&
    noneOfAnyLot(r, line, item, placeId, at)
  )
    return
  const lotId =
    line.lot === null && item.identifiedBy !== 'quantity'
      ? (r.no(line, 'lot_needed', 'lot'), undefined)
      : r.lotIn(line, item)
  if (lotId === undefined) return
  const working = expectedAt(r.books.cellMovements(item.id, lotId, placeId), placeId, at)
  const expected = working.figure
  const counted = line.counted === 'confirmed' ? expected : r.quantity(line, item, line.typed, 'typed', true)
  if (counted === undefined) return
  // In a blind count what was expected stays hidden until two counts agree.
  if (!r.content.head.blind) r.expected.set(r.id(line), { working, expected, counted, confirmed: false, at })
  if (!agreed(r, line, item, counted, expected)) return
  // Two entries of one line (two heaps) add up; their minute is the last one's.
  const twin = r.counts.findIndex(c => c.itemId === item.id && c.lotId === lotId && c.placeId === placeId)
  if (twin >= 0) {
    const first = r.counts[twin]!
    const both = { ...first, counted: first.counted + counted, countedAt: Math.max(first.countedAt, at) }
    r.counts[twin] = both
    r.expected.set(first.lineId, {
      working,
      expected,
      counted: both.counted,
      confirmed: false,
      at: both.countedAt,
    })
    return
  }
  const unitCost = line.unitCost.trim() ? readMoney(line.unitCost) : null
  if (unitCost === undefined) return r.no(line, 'not_a_price', 'unitCost', { given: line.unitCost })
  const tallyId = r.nextTally++
  r.tallyUids.set(tallyId, r.house.uid())
  r.expected.set(r.id(line), { working, expected, counted, confirmed: line.counted === 'confirmed', at })
  r.counts.push({
    lineId: r.id(line),
    tallyId,
    differenceAccount: differenceAccount(tallyId),
    itemId: item.id,
    lotId,
    placeId,
    counted,
    countedAt: at,
    unitCost,
  })
}

/**
 * None of an item that has lots, where the books know of none either: nothing that could be tallied, so nobody is
 * asked for a lot. The line stands on the slip as counted.
 */
function noneOfAnyLot(r: Reading, line: SlipLine, item: ItemRow, placeId: number, at: number): boolean {
  const said = line.counted === 'confirmed' ? 0n : r.quantity(line, item, line.typed, 'typed', true)
  if (said !== 0n) return false
  const lots = r.house.rows.itemLots
    .all({ item: item.id })
    .map(l => expectedAt(r.books.cellMovements(item.id, l.id, placeId), placeId, at))
  if (lots.some(w => w.figure !== 0n)) return false
  r.expected.set(r.id(line), {
    working: lots[0] ?? expectedAt([], placeId, at),
    expected: 0n,
    counted: 0n,
    confirmed: line.counted === 'confirmed',
    at,
  })
  r.empty++
  return true
}

/** A difference beyond tolerance is counted twice; two equal counts stand. Within tolerance, or confirmed, one is enough. */
function agreed(r: Reading, line: SlipLine, item: ItemRow, counted: bigint, expected: bigint): boolean {
  if (line.counted === 'confirmed' || counted === expected) return true
  const off = counted > expected ? counted - expected : expected - counted
  const beyond = expected === 0n || off * 100_000_000n > expected * r.house.organisation!.tolerancePercent
  if (!beyond) return true
  if (!line.again.trim()) {
    r.no(line, 'count_twice', 'again', { counted: formatDecimal(counted), unit: item.unit })
    return false
  }
  const second = r.quantity(line, item, line.again, 'again', true)
  if (second === undefined) return false
  if (second !== counted) {
    r.no(line, 'counts_differ', 'again', {
      first: formatDecimal(counted),
      second: formatDecimal(second),
      unit: item.unit,
    })
    return false
  }
  return true
}
