import { formatDecimal } from '../quantity/decimal.ts'
import { Costing } from '../cost/costing.ts'
import { replay, type Valued } from '../cost/replay.ts'
import { spreadCharges, weightOf } from '../receiving/landed.ts'
import type { BookContext, Booked, Books, SlipDraft } from './books.ts'
import { ONE } from '../quantity/micro.ts'
import { openOf } from '../counting/open.ts'
import { applyChanges, tallyOf } from './corrections.ts'
import { eventOrder } from './events.ts'
import { byCost, factKey, type Fact } from './facts.ts'
import { factKind, judgeLine, judgeSince, judgeTime, judgeTwice, SKEW, wholesOf } from './judge.ts'
import { judgeSerials } from './serials.ts'
import { closingOf, settleTallies } from './settle.ts'
import { deltaIn, earliestFor, lowestSince, stepsOf, type Step } from './timeline.ts'
import type { FactKind, Movement, Refusal, Result } from './types.ts'
import { Work } from './work.ts'

/**
 * Books a slip: the one function that makes ledger lines, for the server, for *before → after* on a screen, for the
 * demonstration and for tests. Reads `books`, writes nothing; either every line with all that follows from it, or the
 * refusals, each naming its line and field.
 *
 *     judge lines ─▶ take back, replace ─▶ new lines ─▶ tallies: what they must say now ─▶ nothing below zero ─▶ values
 */
export function book(books: Books, slip: SlipDraft, context: BookContext): Result<Booked> {
  const effectiveAt =
    slip.effectiveAt > context.now && slip.effectiveAt <= context.now + SKEW ? context.now : slip.effectiveAt
  const refusals = judge(books, slip, context, effectiveAt)
  if (refusals.length) return { ok: false, refusals }
  const work = new Work(books, slip, context, effectiveAt)
  applyChanges(work)
  if (work.refusals.length) return { ok: false, refusals: work.refusals }
  addLines(work)
  addCounts(work)
  if (work.refusals.length) return { ok: false, refusals: work.refusals }
  settleTallies(work)
  checkTimelines(work)
  judgeSerials(work)
  if (work.refusals.length) return { ok: false, refusals: work.refusals }
  value(work)
  judgeSize(work)
  if (work.refusals.length) return { ok: false, refusals: work.refusals }
  return {
    ok: true,
    value: {
      effectiveAt,
      movements: work.pending.map(({ open: _, ...m }) => m as Movement).sort((a, b) => a.seq - b.seq),
      tallies: work.tallies,
      touched: work.touched,
      reversedTallies: [...work.reversedTallies],
      charges: work.charges,
      pools: work.pools,
      items: work.items,
      unpriced: work.unpriced,
    },
  }
}

function judge(books: Books, slip: SlipDraft, context: BookContext, effectiveAt: number): Refusal[] {
  const empty = !slip.lines.length && !slip.counts?.length && !slip.changes?.length
  if (empty) return [{ code: 'no_lines', lineId: null, field: 'lines', detail: {} }]
  const counts = slip.counts ?? []
  const whole = wholesOf(books, slip.lines)
  return [
    ...judgeTime(books, context, effectiveAt),
    ...slip.lines.flatMap(l => [
      ...judgeLine(books, context, slip.kind, l, effectiveAt, whole(l)),
      ...judgeSince(books, l.itemId, effectiveAt, l.lineId),
    ]),
    ...counts.flatMap(c => [
      ...judgeTime(books, context, c.countedAt, c.lineId),
      ...judgeSince(books, c.itemId, c.countedAt, c.lineId),
    ]),
    ...counts
      .filter(c => c.counted < 0n)
      .map(c => ({ code: 'not_positive', lineId: c.lineId, field: 'counted', detail: {} })),
    ...counts
      .filter(c => c.counted > ONE && books.item(c.itemId)?.identifiedBy === 'serial')
      .map(c => ({ code: 'serial_is_one', lineId: c.lineId, field: 'counted', detail: {} })),
    ...counts
      .filter(c => books.lot(c.lotId)?.itemId !== c.itemId)
      .map(c => ({ code: 'lot_of_another_item', lineId: c.lineId, field: 'lot', detail: {} })),
    ...judgeTwice(books, slip),
  ]
}

/** The new lines, each with its share of freight. Lines of one event stand at one place in the order of costing, inputs before outputs. */
function addLines(work: Work): void {
  const { slip, books } = work
  const charges = slip.charges ?? []
  const spread = spreadCharges(
    slip.lines.map(l => {
      const item = books.item(l.itemId)!
      return {
        goods: l.goods ?? null,
        quantity: l.quantity,
        unit: item.unit,
        weight: weightOf(l.quantity, item.mass),
      }
    }),
    charges,
  )
  if (!spread.ok) return work.refuse(spread.code, null, 'charges', { basis: spread.basis })
  if (charges.length) work.charges.push({ slipId: slip.slipId, charges })
  const events = new Map<string, { costSeq: number; part: number }>()
  const share = new Map(slip.lines.map((l, i) => [l, spread.shares[i]!]))
  for (const line of eventOrder(slip.lines, a => work.books.accountKind(a))) {
    const kind = kindOf(work, line)
    if (kind === 'found' || kind === 'close') {
      addSettlement(work, line, kind)
      continue
    }
    const made: { charges: bigint; costSeq?: number; part?: number } = { charges: share.get(line)! }
    if (line.event) {
      const at = events.get(line.event)
      if (at) Object.assign(made, { costSeq: at.costSeq, part: ++at.part })
    }
    const m = work.addLine(line, kind, made)
    if (line.event && !events.has(line.event)) events.set(line.event, { costSeq: m.costSeq, part: 0 })
  }
}

/** A relabel within one pool moves no value and touches no layer: it is valued like a move. */
function kindOf(work: Work, line: SlipDraft['lines'][number]): FactKind {
  const kind = factKind(work.books.accountKind(line.from)!, work.books.accountKind(line.to)!)!
  if (kind !== 'event_in' && kind !== 'event_out') return kind
  if (work.slip.kind !== 'relabel') return kind
  const pool = (l: typeof line) => l.poolId ?? work.books.poolOf(l.itemId, l.lotId)
  const others = work.slip.lines.filter(l => l.event === line.event)
  return others.every(l => pool(l) === pool(line)) ? 'move' : kind
}

/** An open difference is found again (in part or whole) or closed; closing takes all of it. */
function addSettlement(work: Work, line: SlipDraft['lines'][number], kind: 'found' | 'close'): void {
  const tally = line.tallyId === undefined ? undefined : work.books.tally(line.tallyId)
  if (!tally || tally.reversed || tally.itemId !== line.itemId || tally.lotId !== line.lotId)
    return work.refuse('no_such_difference', line.lineId, 'difference')
  work.touch(line.lineId, tally.placeId)
  if (closingOf(work, tally.id)) return work.refuse('already_closed', line.lineId, 'difference')
  const open = openOf(work.tallyFacts(tally.id), work.isPlace, work.context.lossAccount)
  if (kind === 'found') {
    if (line.quantity > open)
      return work.refuse('more_than_open', line.lineId, 'quantity', {
        given: formatDecimal(line.quantity),
        open: formatDecimal(open < 0n ? 0n : open),
      })
    work.addLine(line, kind)
    return
  }
  if (open === 0n) return work.refuse('nothing_open', line.lineId, 'difference')
  const missing = open > 0n
  work.addLine(
    {
      ...line,
      quantity: missing ? open : -open,
      from: missing ? tally.differenceAccount : work.context.gainAccount,
      to: missing ? work.context.lossAccount : tally.differenceAccount,
    },
    'close',
  )
}

function addCounts(work: Work): void {
  for (const line of work.slip.counts ?? []) {
    if (
      work.tallies.some(
        t =>
          t.itemId === line.itemId &&
          t.lotId === line.lotId &&
          t.placeId === line.placeId &&
          t.countedAt === line.countedAt,
      )
    ) {
      work.refuse('counted_twice', line.lineId, 'counted')
      continue
    }
    work.touch(line.lineId, line.placeId)
    work.tallies.push(tallyOf(line, { costSeq: work.takeSeq(), part: 0 }))
  }
}

/** No place goes below zero, now or at any minute since: judged once, at the end of the slip. */
function checkTimelines(work: Work): void {
  const cells = new Map<
    string,
    { itemId: number; lotId: number; placeId: number; lineId: string; steps: Step[]; onlyUndone: boolean }
  >()
  for (const m of work.pending) {
    if (m.quantity === 0n) continue
    for (const placeId of [m.from, m.to]) {
      if (!work.isPlace(placeId)) continue
      const key = `${m.itemId}.${m.lotId}.${placeId}`
      let cell = cells.get(key)
      if (!cell)
        cells.set(
          key,
          (cell = { itemId: m.itemId, lotId: m.lotId, placeId, lineId: m.lineId, steps: [], onlyUndone: true }),
        )
      if (m.from === placeId) cell.lineId = m.lineId
      if (m.from === placeId && m.reverses === null) cell.onlyUndone = false
      cell.steps.push({ at: m.effectiveAt, delta: deltaIn(m, placeId) })
    }
  }
  for (const cell of cells.values()) {
    const balance = work.books.balance(cell.itemId, cell.lotId, cell.placeId)
    const first = Math.min(...cell.steps.map(s => s.at))
    const late = first < balance.lastEffectiveAt
    const before: Step[] = late
      ? stepsOf(work.books.cellMovements(cell.itemId, cell.lotId, cell.placeId), cell.placeId)
      : [{ at: -Infinity, delta: balance.quantity }]
    const low = lowestSince([...before, ...cell.steps], first)
    if (low.quantity >= 0n) continue
    // Nothing is asked for: something that came is taken back, and was used since. Who used it is named.
    const since = cell.onlyUndone
      ? work.books
          .cellMovements(cell.itemId, cell.lotId, cell.placeId)
          .filter(m => m.from === cell.placeId && m.quantity > 0n && m.reverses === null && m.effectiveAt >= first)
          .at(-1)
      : undefined
    if (since) {
      work.refuse('would_have_been_missing', cell.lineId, 'line', {
        item: cell.itemId,
        lot: cell.lotId,
        place: cell.placeId,
        slip: since.slipId,
        missing: formatDecimal(-low.quantity),
      })
      continue
    }
    const asked = cell.steps.reduce((sum, s) => (s.delta < 0n ? sum - s.delta : sum), 0n)
    const there = late ? lowestSince(before, first).quantity : balance.quantity
    const fits = late ? earliestFor(before, first, asked) : undefined
    const counted = work.slip.counts?.some(c => c.lineId === cell.lineId)
    work.refuse(counted ? 'count_again' : 'insufficient_stock', cell.lineId, 'quantity', {
      item: cell.itemId,
      lot: cell.lotId,
      place: cell.placeId,
      asked: formatDecimal(asked),
      there: formatDecimal(there),
      now: formatDecimal(balance.quantity),
      missing: formatDecimal(-low.quantity),
      ...(fits === undefined ? {} : { earliest: fits }),
      elsewhere: work.books
        .lotBalances(cell.itemId)
        .filter(b => b.quantity > 0n && (b.placeId !== cell.placeId || b.lotId !== cell.lotId))
        .map(b => ({ place: b.placeId, lot: b.lotId, quantity: formatDecimal(b.quantity) })),
    })
  }
}

/** What an account or a pool can hold: the database's own whole numbers. Above it nothing is booked. */
const LARGEST = 2n ** 63n - 1n
function judgeSize(work: Work): void {
  const fits = (x: bigint | null) => x === null || (x <= LARGEST && x >= -LARGEST)
  const large = work.pending.find(m => ![m.quantity, m.value, m.goods, m.charges].every(fits))
  const full = [...work.pools].find(([, p]) => !fits(p.quantity) || !fits(p.value) || !fits(p.standard))
  const lineId = large?.lineId ?? work.pending.find(m => m.poolId === full?.[0])?.lineId
  if (large || full) work.refuse('too_large', lineId ?? null, 'quantity', { given: 'That' })
}

/** Kinds that are valued by the pool as it stands, without looking back. */
const PLAIN: ReadonlySet<FactKind> = new Set<FactKind>([
  'receipt',
  'direct',
  'out',
  'return',
  'move',
  'event_out',
  'event_in',
  'standard',
])

/**
 * Finds the values. A slip that only adds at the end is costed on the pools as they stand; whatever reaches back replays
 * its pools from their first movement. Both ways are the same function, so they give the same values.
 */
function value(work: Work): void {
  const isPlain = (m: (typeof work.pending)[number]) =>
    m.reverses === null &&
    m.revalues === null &&
    m.costSeq >= work.firstSeq &&
    (PLAIN.has(m.kind) || (m.kind === 'difference' && m.ord === 0))
  const valued = work.pending.every(isPlain) ? costAtEnd(work) : costAnew(work)
  if (!valued) return
  for (const m of work.pending) work.items.add(m.itemId)
  for (const { fact, outcome } of valued) {
    work.items.add(fact.itemId)
    writeValue(work, fact, outcome.value)
    const gap = outcome.gap - fact.gap
    if (gap !== 0n) work.gap(fact, gap)
    if (fact.kind === 'event_out') notePrice(work, fact, outcome.provisional)
    if (outcome.provisional && fact.kind === 'difference' && fact.costSeq >= work.firstSeq && fact.ord === 0)
      work.refuse('cost_asked', fact.lineId, 'unitCost')
  }
}

/** Keeps of what went into an event whether its price is known, where that is new. */
function notePrice(work: Work, { poolId, costSeq, part, ...fact }: Fact, unpriced: boolean): void {
  const kept = costSeq < work.firstSeq && work.books.unpriced(poolId).has(factKey({ costSeq, part, ...fact }))
  if (kept !== unpriced) work.unpriced.push({ poolId, costSeq, part, unpriced })
}

function costAtEnd(work: Work): Valued[] | undefined {
  const done = new Map<string, bigint>()
  const unpriced = new Set<number>()
  const facts = work.fold(work.pending)
  const costing = new Costing({
    isPlace: work.isPlace,
    eventFacts: costSeq =>
      facts.filter(f => f.costSeq === costSeq).map(f => ({ ...f, value: done.get(factKey(f)) ?? f.value })),
    unpricedEvent: costSeq => unpriced.has(costSeq),
  })
  const valued: Valued[] = []
  for (const fact of facts) {
    if (!costing.pools.has(fact.poolId)) costing.pools.set(fact.poolId, work.books.pool(fact.poolId))
    const outcome = costing.apply(fact)
    if ('short' in outcome) {
      work.refuse(outcome.code, fact.lineId, 'quantity', { missing: formatDecimal(outcome.missing) })
      return undefined
    }
    done.set(factKey(fact), outcome.value)
    if (fact.kind === 'event_out' && outcome.provisional) unpriced.add(fact.costSeq)
    valued.push({ fact, outcome })
  }
  for (const [id, p] of costing.pools) work.pools.set(id, p)
  return valued
}

function costAnew(work: Work): Valued[] | undefined {
  const result = replay(
    {
      isPlace: work.isPlace,
      poolStart: id => work.books.poolStart(id),
      poolFacts: id => work.poolFacts(id).sort(byCost),
      eventFacts: costSeq => work.eventFacts(costSeq),
      unpriced: poolId => work.books.unpriced(poolId),
      tied: fact => work.tiedPools(fact),
    },
    new Set(work.pending.map(m => m.poolId)),
  )
  if (!result.ok) {
    const own = work.pending.find(m => m.costSeq === result.fact.costSeq && m.reverses === null)
    work.refuse(result.code, own?.lineId ?? work.pending[0]!.lineId, 'quantity', {
      missing: formatDecimal(result.missing),
      slip: result.fact.slipId,
      line: result.fact.lineId,
    })
    return undefined
  }
  for (const [id, p] of result.pools) work.pools.set(id, p)
  return result.valued
}

/** Gives a fact its value: on the line itself where this slip writes it, else by a revaluation of it. */
function writeValue(work: Work, fact: Fact, target: bigint): void {
  let rest = target - fact.value
  if (rest === 0n) return
  const own = work.pending.findLast(
    m =>
      m.open &&
      m.poolId === fact.poolId &&
      (m.seq === fact.head || (fact.kind === 'difference' && m.kind === 'difference' && factKey(m) === factKey(fact))),
  )
  if (own) {
    own.open = false
    const along = own.from === fact.from && own.to === fact.to
    const wanted = own.value + (along ? rest : -rest)
    const given = wanted < 0n && own.kind !== 'standard' ? 0n : wanted
    rest -= along ? given - own.value : own.value - given
    own.value = given
  }
  if (rest !== 0n) work.revalue(fact, rest)
}
