import type { SlipLine } from '@shelve/contract'
import { type DraftLine, type Fact, formatDecimal, min } from '@shelve/core'
import type { ItemRow } from '../catalogue/index.ts'
import { factAt, factsOfLine, returnable } from '../ledger/index.ts'
import type { Reading } from '../papers/index.ts'
import { wastedBy } from '../waste/index.ts'
import type { House } from './house.ts'

/** What of a line is left with whoever it was handed out to. */
const leftOf = (r: Reading, lineId: number) =>
  factsOfLine(r.house, r.books, lineId)
    .filter(f => f.kind === 'out' || f.kind === 'direct' || f.kind === 'recharge')
    .map(fact => ({ fact, free: fact.quantity - r.books.broughtBack(fact) }))

/**
 * Brought back: the named issue line, or what the job still has of the item, latest first; on a shelf, or, where a reason is
 * said, to waste: what came back spoiled never lies there (rule 63).
 */
export function bringBack(house: House, r: Reading, line: SlipLine): DraftLine[] {
  const item: ItemRow | undefined = line.item === null ? undefined : r.item(line)
  // Of a line that replaces one, the reference names the line that is replaced.
  const source = line.ref === null || r.returns ? undefined : r.house.rows.line.get({ uid: line.ref })
  if (line.ref !== null && !source && !r.returns) {
    r.no(line, 'unknown_line', 'ref')
    return []
  }
  let facts: { fact: Fact; free: bigint }[]
  if (r.returns)
    facts = r.returns.flatMap(key => {
      const fact = factAt(r.house, r.books, key)
      return fact ? [{ fact, free: fact.quantity - r.books.broughtBack(fact) + key.quantity }] : []
    })
  else if (source) facts = leftOf(r, source.id)
  else {
    const used = r.usedBy()
    if (!item) return []
    facts = returnable(r.house, r.books, used, item.id)
  }
  const owner = item ?? (facts[0] ? r.house.known.itemById(facts[0].fact.itemId) : undefined)
  if (!owner) {
    r.no(line, 'nothing_to_bring_back', 'ref')
    return []
  }
  const quantity = r.quantity(line, owner)
  if (quantity === undefined) return []
  const spoiled = line.reason === null ? undefined : wastedBy(house, r, line)
  const out: DraftLine[] = []
  let left = quantity
  for (const { fact, free } of facts.sort((a, b) => b.fact.costSeq - a.fact.costSeq)) {
    if (left === 0n || free <= 0n) continue
    const x = free < left ? free : left
    left -= x
    const place =
      spoiled ??
      (line.to !== null ? r.place(line, line.to, 'to') : r.house.places.row(fact.from) ? fact.from : r.area())
    if (place === undefined) {
      if (line.to === null) r.no(line, 'place_needed', 'to')
      return []
    }
    out.push({
      lineId: r.id(line),
      itemId: fact.itemId,
      lotId: fact.lotId,
      from: fact.to,
      to: place,
      quantity: x,
      ref: { costSeq: fact.costSeq, part: fact.part },
      needId: fact.needId ?? null,
    })
  }
  if (left > 0n)
    r.no(line, 'more_than_issued', 'typed', {
      asked: formatDecimal(quantity),
      free: formatDecimal(quantity - left),
      unit: owner.unit,
    })
  return out
}

/** Charged to somebody else: so much of a line that was handed out, from whoever has it, at what it is worth now. */
export function recharge(r: Reading, line: SlipLine): DraftLine[] {
  // Of a line that replaces one, the reference names the line that is replaced.
  const source = line.ref === null || r.returns ? undefined : r.house.rows.line.get({ uid: line.ref })
  const of = source && r.house.rows.slipById.get({ id: source.slipId })
  if (!source && !r.returns) {
    r.no(line, 'unknown_line', 'ref')
    return []
  }
  // Whoever keeps the shelf that it came from may say so.
  if (of && of.placeId !== (r.area() ?? null)) {
    r.no(line, 'issued_elsewhere', 'ref', of.placeId === null ? {} : { place: of.placeId })
    return []
  }
  const facts = source
    ? leftOf(r, source.id)
    : r.returns!.flatMap(key => {
        const fact = factAt(r.house, r.books, key)
        return fact ? [{ fact, free: fact.quantity - r.books.broughtBack(fact) + key.quantity }] : []
      })
  const item = facts[0] && r.house.known.itemById(facts[0].fact.itemId)
  if (!item) {
    r.no(line, 'nothing_to_bring_back', 'ref')
    return []
  }
  const quantity = r.quantity(line, item)
  const to = r.usedBy()
  if (quantity === undefined) return []
  if (facts.some(f => f.fact.to === to)) {
    r.no(line, 'charged_there', 'costCentre')
    return []
  }
  const out: DraftLine[] = []
  let left = quantity
  for (const { fact, free } of facts) {
    const x = min(free, left)
    if (x <= 0n) continue
    left -= x
    out.push({
      lineId: r.id(line),
      itemId: fact.itemId,
      lotId: fact.lotId,
      from: fact.to,
      to,
      quantity: x,
      ref: { costSeq: fact.costSeq, part: fact.part },
      needId: fact.needId ?? null,
    })
  }
  if (left > 0n)
    r.no(line, 'more_than_issued', 'typed', {
      asked: formatDecimal(quantity),
      free: formatDecimal(quantity - left),
      unit: item.unit,
    })
  return out
}
