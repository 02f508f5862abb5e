import { MOST, type Quantity } from '../quantity/micro.ts'
import { fits, formatDecimal } from '../quantity/decimal.ts'
import { lotState } from '../lots/state.ts'
import type { Books, BookContext, DraftLine, SlipDraft } from './books.ts'
import { foldFacts } from './facts.ts'
import { givesUp, refuse, type AccountKind, type FactKind, type Refusal, type SlipKind } from './types.ts'

/** Which account kinds a slip of each kind runs between: [from, to]. */
const SHAPES: Partial<Record<SlipKind, readonly (readonly [AccountKind, AccountKind])[]>> = {
  opening: [['opening', 'place']],
  receipt: [
    ['supplier', 'place'],
    ['supplier', 'used'],
  ],
  issue: [
    ['place', 'used'],
    ['place', 'waste'],
  ],
  bring_back: [
    ['used', 'place'],
    ['used', 'waste'],
  ],
  recharge: [['used', 'used']],
  move: [['place', 'place']],
  dispatch: [['place', 'place']],
  arrival: [['place', 'place']],
  waste: [['place', 'waste']],
  relabel: [
    ['place', 'relabel'],
    ['relabel', 'place'],
  ],
  method_change: [
    ['place', 'relabel'],
    ['relabel', 'place'],
  ],
  make: [
    ['place', 'made'],
    ['made', 'place'],
    ['place', 'waste'],
  ],
  supplier_return: [['place', 'supplier']],
  closing: [
    ['difference', 'place'],
    ['difference', 'loss'],
    ['gain', 'difference'],
  ],
}

/** How a line between such accounts is valued; undefined where no slip has such a line. */
export function factKind(from: AccountKind, to: AccountKind): FactKind | undefined {
  if (from === 'place') {
    if (to === 'place') return 'move'
    if (to === 'supplier') return 'return'
    if (to === 'made' || to === 'relabel') return 'event_out'
    return to === 'used' || to === 'waste' ? 'out' : undefined
  }
  if (to === 'place') {
    if (from === 'supplier' || from === 'opening') return 'receipt'
    if (from === 'made' || from === 'relabel') return 'event_in'
    if (from === 'difference') return 'found'
    return from === 'used' ? 'back' : undefined
  }
  if (from === 'used' && to === 'used') return 'recharge'
  if (from === 'used' && to === 'waste') return 'spoil'
  if (from === 'supplier' && to === 'used') return 'direct'
  return (from === 'difference' && to === 'loss') || (from === 'gain' && to === 'difference') ? 'close' : undefined
}

/** Kinds for which a lot must be usable; waste, returns and moves may take any lot, also where a job wastes it. */
const NEEDS_USABLE: ReadonlySet<SlipKind> = new Set(['issue', 'make'])
const needsUsable = (books: Books, kind: SlipKind, line: DraftLine): boolean =>
  NEEDS_USABLE.has(kind) && fromPlace(books, line) && books.accountKind(line.to) !== 'waste' && !line.override

/**
 * What of each line is counted in the item's decimals: its quantity; of what is shared out among several all that leaves one
 * shelf of one lot (or comes there), so that a shelf never holds a part of a whole one. Added up once for all lines.
 */
export function wholesOf(books: Books, lines: readonly DraftLine[]): (line: DraftLine) => Quantity {
  const key = (l: DraftLine) =>
    `${l.lineId} ${l.lotId} ${fromPlace(books, l) ? l.from : books.accountKind(l.to) === 'place' ? l.to : 0}`
  const sums = new Map<string, Quantity>()
  for (const l of lines) if (l.shared) sums.set(key(l), (sums.get(key(l)) ?? 0n) + l.quantity)
  return l => (l.shared ? sums.get(key(l))! : l.quantity)
}

/**
 * Judges a line by itself, as of the instant it is dated: accounts that fit the slip, an amount that can be (`whole`: what
 * of it is counted in the item's decimals), a lot that belongs to the item and may be used. What there is of it is judged
 * later, on the whole slip.
 */
export function judgeLine(
  books: Books,
  context: BookContext,
  kind: SlipKind,
  line: DraftLine,
  at: number,
  whole: Quantity = line.quantity,
): Refusal[] {
  const { lineId } = line
  const item = books.item(line.itemId)
  if (!item) return [refuse('unknown_item', lineId, 'item', { item: line.itemId })]
  const from = books.accountKind(line.from)
  const to = books.accountKind(line.to)
  if (!from || !to) return [refuse('unknown_account', lineId, from ? 'to' : 'from')]
  if (line.from === line.to) return [refuse('same_place', lineId, 'to')]
  if (!(SHAPES[kind] ?? []).some(([f, t]) => f === from && t === to))
    return [refuse('wrong_accounts', lineId, 'to', { kind, from, to })]

  if (givesUp(factKind(from, to)!) && !wasUsedBy(books, line)) return [refuse('nothing_to_bring_back', lineId, 'ref')]
  const found: Refusal[] = []
  const closes = factKind(from, to) === 'close'
  if (line.quantity <= 0n && !(closes && line.quantity === 0n))
    found.push(refuse('not_positive', lineId, 'quantity', { given: formatDecimal(line.quantity) }))
  else if (line.quantity > MOST)
    found.push(
      refuse('too_large', lineId, 'quantity', { given: formatDecimal(line.quantity), most: formatDecimal(MOST) }),
    )
  else if (!fits(whole, item.decimals))
    found.push(
      refuse('too_many_decimals', lineId, 'quantity', {
        given: formatDecimal(whole),
        decimals: item.decimals,
      }),
    )
  // A charge goes from its supplier to whoever is charged and never lies anywhere (rule 68); so does what is bought for someone.
  if (item.kept !== 'stock' && (from === 'place' || to === 'place'))
    found.push(refuse(item.kept === 'charge' ? 'not_stocked' : 'bought_for_someone', lineId, 'to'))
  if (line.goods !== undefined && line.goods !== null && (line.goods < 0n || line.goods > MOST))
    found.push(refuse('price_out_of_range', lineId, 'price', { given: formatDecimal(line.goods) }))
  if (kind === 'supplier_return' && (line.goods === undefined || line.goods === null))
    found.push(refuse('credit_needed', lineId, 'price'))
  return [...found, ...judgeLot(books, kind, line, () => context.dayOf(at))]
}

/** Whether what a line takes out of what was used was used there: by the account that it is taken from. Without a reference it is refused when it is valued. */
function wasUsedBy(books: Books, { ref, from, itemId, lotId }: DraftLine): boolean {
  if (!ref) return true
  const of = foldFacts(books.movementsAt(ref.costSeq), () => false).find(f => f.part === ref.part)
  return of !== undefined && of.to === from && of.itemId === itemId && of.lotId === lotId
}

/** A lot must be the item's own, and given where the item has lots; for an issue it must be usable on the day of it (rule 55). */
function judgeLot(books: Books, kind: SlipKind, line: DraftLine, day: () => string): Refusal[] {
  const { lineId } = line
  const item = books.item(line.itemId)!
  const lot = books.lot(line.lotId)
  if (!lot || lot.itemId !== line.itemId) return [refuse('lot_of_another_item', lineId, 'lot')]
  if (!returns(books, line)) {
    if (item.identifiedBy === 'quantity' && lot.code !== null && line.quantity > 0n)
      return [refuse('item_without_lots', lineId, 'lot', { lot: lot.code })]
    if (item.identifiedBy !== 'quantity' && lot.code === null)
      return [refuse('lot_needed', lineId, 'lot', { identifiedBy: item.identifiedBy })]
    if (item.identifiedBy === 'lot_expiry' && lot.expiry === null) return [refuse('expiry_needed', lineId, 'expiry')]
  }
  if (needsUsable(books, kind, line)) {
    const state = lotState(lot, day())
    if (state !== 'usable')
      return [refuse('lot_not_usable', lineId, 'lot', { lot: lot.code, state, expiry: lot.expiry })]
  }
  // What a change of method takes out and puts in again is judged with everything else that moved it.
  if (item.identifiedBy === 'serial' && !line.event) return judgeSerial(books, line, lot.code)
  return []
}

/** A serial number is 0 or 1 over all shelves and transits together. */
function judgeSerial(books: Books, line: DraftLine, code: string | null): Refusal[] {
  if (line.quantity !== 1_000_000n) return [refuse('serial_is_one', line.lineId, 'quantity')]
  const comes = books.accountKind(line.to) === 'place' && books.accountKind(line.from) !== 'place'
  const here = comes ? books.lotBalances(line.itemId).find(b => b.lotId === line.lotId && b.quantity > 0n) : undefined
  return here ? [refuse('serial_already_here', line.lineId, 'lot', { serial: code, place: here.placeId })] : []
}

/**
 * Whether a line is about what was here already: off a shelf, brought back, or of an open difference. It goes as it came, however the
 * item is identified by now (rule 50).
 */
const returns = (books: Books, line: DraftLine): boolean => {
  const from = books.accountKind(line.from)
  return from === 'place' || from === 'used' || from === 'difference'
}
const fromPlace = (books: Books, line: DraftLine): boolean => books.accountKind(line.from) === 'place'

/** Two minutes of clock skew are clamped to now; beyond that, and in a closed month, a slip is refused. */
export const SKEW = 120_000
export function judgeTime(books: Books, context: BookContext, at: number, lineId: string | null = null): Refusal[] {
  if (!Number.isSafeInteger(at)) return [refuse('not_a_time', lineId, 'effectiveAt')]
  if (at > context.now + SKEW) return [refuse('in_the_future', lineId, 'effectiveAt', { given: at, now: context.now })]
  if (at < books.openFrom())
    return [refuse('month_closed', lineId, 'effectiveAt', { given: at, openFrom: books.openFrom() })]
  return []
}

/** Before an item's cost method was changed no quantity of it is touched any more; values are. `costSeq`: where the line stands, if not at the end. */
export function judgeSince(books: Books, itemId: number, at: number, lineId: string, costSeq = Infinity): Refusal[] {
  const since = books.item(itemId)?.costedSince
  return since && (at < since.at || costSeq < since.costSeq)
    ? [refuse('before_method_change', lineId, 'effectiveAt', { given: at, since: since.at })]
    : []
}

/** Two lines of one slip may not receive the same serial number. */
export function judgeTwice(books: Books, slip: SlipDraft): Refusal[] {
  const seen = new Set<number>()
  return slip.lines
    .filter(l => books.item(l.itemId)?.identifiedBy === 'serial')
    .flatMap(l => {
      if (seen.has(l.lotId) && !l.event)
        return [refuse('serial_twice', l.lineId, 'lot', { serial: books.lot(l.lotId)?.code })]
      seen.add(l.lotId)
      return []
    })
}
