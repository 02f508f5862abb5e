import { deriveDifferences, type CellTally, type Derived } from '../counting/derive.ts'
import { openOf } from '../counting/open.ts'
import { byCost, type Fact } from './facts.ts'
import type { Movement, Tally } from './types.ts'
import type { Work } from './work.ts'

/**
 * Makes the differences of every count what they must be with this slip in the books: a tally is the truth at its
 * minute, whatever is written later. Compares what must be (counting/derive) with what is, and adds what is lacking;
 * then puts closings right that lie above.
 */
export function settleTallies(work: Work): void {
  const shaken = new Set<number>()
  for (const cell of cellsToSettle(work)) settleCell(work, cell, shaken)
  for (const tallyId of shaken) settleClosing(work, tallyId)
}

interface Cell {
  readonly itemId: number
  readonly lotId: number
  readonly placeId: number
  readonly lineId: string
}

/** Every (item, lot, place) whose tallies this slip may touch. */
function cellsToSettle(work: Work): Cell[] {
  const cells = new Map<string, Cell>()
  const add = (itemId: number, lotId: number, placeId: number, lineId: string) => {
    const key = `${itemId}.${lotId}.${placeId}`
    if (!cells.has(key)) cells.set(key, { itemId, lotId, placeId, lineId })
  }
  for (const t of work.tallies) add(t.itemId, t.lotId, t.placeId, lineOf(work, t))
  for (const id of work.reversedTallies) {
    const t = work.books.tally(id)!
    add(
      t.itemId,
      t.lotId,
      t.placeId,
      work.slip.changes!.find(c => c.type === 'reverse_tally' && c.tallyId === id)!.lineId,
    )
  }
  for (const m of work.pending) {
    if (m.quantity === 0n) continue
    // The original minute decides which tallies it touches, even where it is dated later because a month is closed.
    const at = m.kind === 'difference' ? m.effectiveAt : minuteOfLine(work, m)
    for (const placeId of [m.from, m.to]) {
      if (work.isPlace(placeId) && work.books.hasTallyFrom(m.itemId, m.lotId, placeId, at))
        add(m.itemId, m.lotId, placeId, m.lineId)
    }
  }
  return [...cells.values()]
}

/** When what a movement writes or takes back happened, as counts see it; no later than it is dated. */
const minuteOfLine = (work: Work, m: Pick<Movement, 'costSeq' | 'seq' | 'reverses' | 'effectiveAt'>): number =>
  m.reverses === null && m.costSeq === m.seq
    ? m.effectiveAt
    : Math.min(m.effectiveAt, work.standsAt(m.costSeq, m.reverses ?? m.seq))

const lineOf = (work: Work, t: Tally): string =>
  work.slip.counts?.find(c => c.tallyId === t.id)?.lineId ??
  work.slip.changes?.find(c => c.type === 'reverse_tally' && c.again?.tallyId === t.id)?.lineId ??
  ''

function settleCell(work: Work, cell: Cell, shaken: Set<number>): void {
  const { itemId, lotId, placeId } = cell
  const last = countedLast(work, cell)
  if (last) {
    const { id, costSeq, part, differenceAccount, countedAt, counted } = last
    const delta = counted - work.books.balance(itemId, lotId, placeId).quantity
    const own = { tallyId: id, costSeq, part, account: differenceAccount, delta, at: countedAt, own: true }
    return addDifference(work, cell, own, delta, shaken)
  }
  const facts = work.cellFacts(itemId, lotId, placeId)
  const live: Tally[] = [
    ...work.books.tallies(itemId, lotId, placeId),
    ...work.tallies.filter(t => t.itemId === itemId && t.lotId === lotId && t.placeId === placeId),
  ].filter(t => !t.reversed && !work.reversedTallies.has(t.id))
  const lines = facts
    .filter(f => f.kind !== 'difference' && f.quantity > 0n)
    .map(f => ({
      costSeq: f.costSeq,
      part: f.part,
      // Most lines stand as they were written first; only of others is it asked what they replaced.
      effectiveAt: f.head === f.costSeq ? f.effectiveAt : work.standsAt(f.costSeq, f.head),
      delta: inPlace(f, placeId),
    }))
  const must = deriveDifferences(
    lines,
    live.map(t => cellTally(work, t)),
  )
  const is = new Map(facts.filter(f => f.kind === 'difference').map(f => [nameOf(f, placeId), f]))
  for (const d of must) {
    const name = `${d.costSeq}.${d.part}t${d.tallyId}${d.own ? '' : `@${d.account}`}`
    const have = is.get(name)
    is.delete(name)
    const change = d.delta - (have ? inPlace(have, placeId) : 0n)
    if (change !== 0n || (d.own && !have)) addDifference(work, cell, d, change, shaken)
  }
  for (const f of is.values()) {
    // What a tally found as expected is taken back too, though nothing moves by it: the pair stays visible, and a slip has something in the ledger.
    if (f.quantity === 0n && !(f.ord === 0 && work.reversedTallies.has(f.tallyId!))) continue
    addDifference(
      work,
      cell,
      {
        tallyId: f.tallyId!,
        costSeq: f.costSeq,
        part: f.part,
        account: otherSide(f, placeId),
        delta: 0n,
        at: f.effectiveAt,
        own: f.ord === 0,
      },
      -inPlace(f, placeId),
      shaken,
    )
  }
}

/**
 * A count after all that is known of a cell needs no looking back: it finds what is not as it lies there now, and changes
 * nothing of before. (With every key of a long count each of its cells is settled.) Undefined where it must be looked at.
 */
function countedLast(work: Work, { itemId, lotId, placeId }: Cell): Tally | undefined {
  const [t, another] = work.tallies.filter(x => x.itemId === itemId && x.lotId === lotId && x.placeId === placeId)
  if (!t || another || t.costSeq < work.firstSeq || work.reversedTallies.size) return undefined
  const here = (a: number) => a === placeId
  if (work.pendingOf(itemId).some(m => m.lotId === lotId && (here(m.from) || here(m.to)))) return undefined
  const { lastEffectiveAt } = work.books.balance(itemId, lotId, placeId)
  return t.countedAt >= lastEffectiveAt && !work.books.hasTallyFrom(itemId, lotId, placeId, t.countedAt) ? t : undefined
}

const inPlace = (f: Pick<Fact, 'to' | 'quantity'>, placeId: number): bigint =>
  f.to === placeId ? f.quantity : -f.quantity
const otherSide = (f: Fact, placeId: number): number => (f.to === placeId ? f.from : f.to)
const nameOf = (f: Fact, placeId: number): string =>
  `${f.costSeq}.${f.part}t${f.tallyId}${f.ord === 0 ? '' : `@${otherSide(f, placeId)}`}`

/** The closing of a tally's difference that stands now, also one that came to take nothing. */
export function closingOf(work: Work, tallyId: number): Fact | undefined {
  const movements = work.tallyMovements(tallyId).filter(m => m.kind === 'close' && m.revalues === null)
  return work.fold(movements).findLast(f => f.quantity > 0n || !movements.some(m => m.reverses === f.head))
}

function cellTally(work: Work, t: Tally): CellTally {
  const close = closingOf(work, t.id)
  const account = close && (close.from === t.differenceAccount ? close.to : close.from)
  return {
    id: t.id,
    costSeq: t.costSeq,
    part: t.part,
    countedAt: t.countedAt,
    counted: t.counted,
    account: t.differenceAccount,
    ...(close ? { closed: { costSeq: close.costSeq, account: account! } } : {}),
  }
}

function addDifference(work: Work, cell: Cell, d: Derived, change: bigint, shaken: Set<number>): void {
  const inward = change > 0n
  const tally = work.tallies.find(t => t.id === d.tallyId)
  const asked =
    work.slip.counts?.find(c => c.tallyId === d.tallyId) ??
    work.slip.changes?.flatMap(c => (c.type === 'reverse_tally' && c.again?.tallyId === d.tallyId ? [c.again] : []))[0]
  work.add({
    kind: 'difference',
    lineId: tally && d.own ? lineOf(work, tally) : cell.lineId,
    itemId: cell.itemId,
    lotId: cell.lotId,
    poolId: work.books.poolOf(cell.itemId, cell.lotId),
    from: inward ? d.account : cell.placeId,
    to: inward ? cell.placeId : d.account,
    quantity: inward ? change : -change,
    costSeq: d.costSeq,
    part: d.part,
    ord: d.own ? 0 : inward ? -1 : 1,
    tallyId: d.tallyId,
    effectiveAt: Math.max(d.at, work.books.openFrom()),
    open: true,
    goods: d.own && tally && asked?.unitCost !== undefined ? asked.unitCost : null,
    ...(d.own && tally && tally.costSeq >= work.firstSeq ? { seq: tally.costSeq } : {}),
  })
  if (work.reversedTallies.has(d.tallyId) && d.own)
    work.pending.at(-1)!.reverses =
      work.books.movementsAt(d.costSeq).find(m => m.kind === 'difference' && m.tallyId === d.tallyId && m.ord === 0)
        ?.seq ?? null
  shaken.add(d.tallyId)
}

/** Closing takes all that is open: where a correction below changes how much that is, the closing is taken back and written anew. */
function settleClosing(work: Work, tallyId: number): void {
  const close = closingOf(work, tallyId)
  if (!close || close.slipId === work.slip.slipId) return
  const tally = work.books.tally(tallyId)!
  const facts = work.tallyFacts(tallyId).filter(f => f.kind !== 'close' && byCost(f, close) < 0)
  const open = openOf(facts, work.isPlace, work.context.lossAccount)
  const was = close.from === tally.differenceAccount ? close.quantity : -close.quantity
  if (open === was) return
  const lineId = work.pending.at(-1)!.lineId
  work.add({
    kind: 'close',
    lineId,
    itemId: close.itemId,
    lotId: close.lotId,
    poolId: close.poolId,
    from: close.to,
    to: close.from,
    quantity: close.quantity,
    value: close.value,
    costSeq: close.costSeq,
    part: close.part,
    tallyId,
    reverses: close.head,
    effectiveAt: Math.max(close.effectiveAt, work.books.openFrom()),
  })
  const missing = open >= 0n
  work.add({
    kind: 'close',
    lineId,
    itemId: close.itemId,
    lotId: close.lotId,
    poolId: close.poolId,
    from: missing ? tally.differenceAccount : work.context.gainAccount,
    to: missing ? work.context.lossAccount : tally.differenceAccount,
    quantity: missing ? open : -open,
    costSeq: close.costSeq,
    part: close.part,
    tallyId,
    effectiveAt: Math.max(close.effectiveAt, work.books.openFrom()),
    open: true,
  })
}
