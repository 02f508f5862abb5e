import type { SlipLine } from '@shelve/contract'
import { type DraftLine, type Fact, formatDecimal, min, type Quantity, sharedOut } from '@shelve/core'
import type { ItemRow } from '../catalogue/index.ts'
import { factAt, factsOfLine, returnable } from '../ledger/index.ts'
import type { Reading } from '../papers/index.ts'
import { wastedBy } from '../waste/index.ts'
import type { House } from './house.ts'

/** Something that was used, and how much of it is left with whoever has it. */
interface Used {
  readonly fact: Fact
  readonly free: Quantity
}
/** What of a line is left with whoever it was handed out to. */
const leftOf = (r: Reading, lineId: number): Used[] =>
  factsOfLine(r.house, r.books, lineId)
    .filter(f => f.kind === 'out' || f.kind === 'direct' || f.kind === 'recharge')
    .map(fact => ({ fact, free: fact.quantity - r.books.broughtBack(fact) }))

/** Where a line was for several, each gives up its part of what they have. */
function eachItsPart(used: readonly Used[], quantity: Quantity): Used[] {
  const all = used.reduce((sum, u) => sum + u.free, 0n)
  if (quantity >= all || new Set(used.map(u => u.fact.to)).size < 2) return [...used]
  const parts = sharedOut(
    quantity,
    used.map(u => u.free),
  )
  return used.map((u, i) => ({ ...u, free: parts[i]! }))
}

/** Of a line that replaces one: what that one took, which is free again. */
const freed = (r: Reading): Used[] =>
  r.returns!.flatMap(key => {
    const fact = factAt(r.house, r.books, key)
    return fact ? [{ fact, free: fact.quantity - r.books.broughtBack(fact) + key.quantity }] : []
  })

/** The issue line that is meant; of a line that replaces one, the reference names the line that is replaced. */
const sourceOf = (r: Reading, line: SlipLine) =>
  line.ref === null || r.returns ? undefined : r.house.rows.line.get({ uid: line.ref })

/** So much of what was used is given up, the first of `used` first; `to` says where it goes, or undefined and why not. */
function giveUp(
  r: Reading,
  line: SlipLine,
  item: ItemRow,
  quantity: Quantity,
  used: readonly Used[],
  to: (fact: Fact) => number | undefined,
  /** Whoever it goes to may need it: then it is that need which it answers. */ charged = false,
): DraftLine[] {
  const out: DraftLine[] = []
  let left = quantity
  const shared = new Set(used.map(u => u.fact.to)).size > 1
  for (const { fact, free } of used) {
    const x = min(free, left)
    if (x <= 0n) continue
    left -= x
    const goal = to(fact)
    if (goal === undefined) return []
    out.push({
      lineId: r.id(line),
      itemId: fact.itemId,
      lotId: fact.lotId,
      from: fact.to,
      to: goal,
      quantity: x,
      shared,
      ref: { costSeq: fact.costSeq, part: fact.part },
      ...(charged ? {} : { needId: fact.needId ?? null }),
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

/**
 * Brought back: the named issue line, or what the job still has of the item, latest first; on a shelf, or, where a reason is
 * said, to waste: what came back spoiled never lies there (rule 63).
 */
export function bringBack(house: House, r: Reading, line: SlipLine): DraftLine[] {
  const item: ItemRow | undefined = line.item === null ? undefined : r.item(line)
  const source = sourceOf(r, line)
  if (line.ref !== null && !source && !r.returns) return (r.no(line, 'unknown_line', 'ref'), [])
  let used: Used[]
  if (r.returns) used = freed(r)
  else if (source) used = leftOf(r, source.id)
  else {
    const by = r.usedBy()
    // Of nobody nothing is left with anybody: that it is missing for whom is said already.
    const { job, costCentre } = r.content.head
    if (!item || (job === null && costCentre === null)) return []
    used = returnable(r.house, r.books, by, item.id)
  }
  const owner = item ?? (used[0] ? r.house.known.itemById(used[0].fact.itemId) : undefined)
  if (!owner) return (r.no(line, 'nothing_to_bring_back', 'ref'), [])
  const quantity = r.quantity(line, owner)
  if (quantity === undefined) return []
  const spoiled = line.reason === null ? undefined : wastedBy(house, r, line)
  used = source ? eachItsPart(used, quantity) : used
  used.sort((a, b) => b.fact.costSeq - a.fact.costSeq)
  return giveUp(r, line, owner, quantity, used, fact => {
    if (spoiled !== undefined) return spoiled
    if (line.to !== null) return r.place(line, line.to, 'to')
    return r.house.places.row(fact.from) ? fact.from : (r.area() ?? r.place(line, null, 'to'))
  })
}

/** Charged to somebody else: so much of a line that was handed out, from whoever has it, at what it is worth now. */
export function recharge(r: Reading, line: SlipLine): DraftLine[] {
  const source = sourceOf(r, line)
  if (!source && !r.returns) return (r.no(line, 'unknown_line', 'ref'), [])
  const of = source && r.house.rows.slipById.get({ id: source.slipId })
  // Whoever keeps the shelf that it came from may say so.
  if (of && of.placeId !== (r.area() ?? null)) {
    r.no(line, 'issued_elsewhere', 'ref', of.placeId === null ? {} : { place: of.placeId })
    return []
  }
  const used = source ? leftOf(r, source.id) : freed(r)
  const item = used[0] && r.house.known.itemById(used[0].fact.itemId)
  if (!item) return (r.no(line, 'nothing_to_bring_back', 'ref'), [])
  const quantity = r.quantity(line, item)
  const to = r.usedBy()
  if (quantity === undefined) return []
  if (used.some(u => u.fact.to === to)) return (r.no(line, 'charged_there', 'costCentre'), [])
  return giveUp(r, line, item, quantity, eachItsPart(used, quantity), () => to, true)
}
