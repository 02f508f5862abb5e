import type { SlipLine } from '@shelve/contract'
import { type DraftLine, type Fact, formatDecimal } from '@shelve/core'
import type { ItemRow } from '../catalogue/index.ts'
import { factAt, factsOfLine, returnable } from '../ledger/index.ts'
import type { Reading } from '../papers/index.ts'

/** Brought back: the named issue line, or what the job still has of the item, latest first. */
export function bringBack(r: Reading, line: SlipLine): DraftLine[] {
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
  else if (source)
    facts = factsOfLine(r.house, r.books, source.id)
      .filter(f => f.kind === 'out' || f.kind === 'direct')
      .map(fact => ({ fact, free: fact.quantity - r.books.broughtBack(fact) }))
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
  const out: DraftLine[] = []
  let left = quantity
  for (const { fact, free } of facts.sort((a, b) => b.fact.costSeq - a.fact.costSeq)) {
    if (left === 0n || free <= 0n) continue
    const x = free < left ? free : left
    left -= x
    const place = line.to !== null ? r.place(line, line.to, 'to') : r.house.places.row(fact.from) ? fact.from : r.area()
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
