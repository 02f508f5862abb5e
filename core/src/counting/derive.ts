import type { Quantity } from '../quantity/micro.ts'
import type { Key } from '../ledger/types.ts'

/** A line that moves stock of one (item, lot, place): its change of what lies there, at its original minute. */
export interface CellLine extends Key {
  readonly effectiveAt: number
  readonly delta: Quantity
}
/** A tally of the same (item, lot, place); `closed` where its difference was closed, and where to. */
export interface CellTally extends Key {
  readonly id: number
  readonly countedAt: number
  readonly counted: Quantity
  readonly account: number
  readonly closed?: { readonly costSeq: number; readonly account: number }
}
/** A movement of a difference that there must be: `delta` is the change of what lies in the place; `own`: the tally's own finding. */
export interface Derived extends Key {
  readonly tallyId: number
  readonly account: number
  readonly delta: Quantity
  readonly at: number
  readonly own: boolean
}

/**
 * A booked tally is the truth at its minute. Works out, from the lines and tallies of one (item, lot, place), every
 * movement against open differences that follows from them:
 *
 *     time ──▶      line +10        tally T: 7            now
 *     written first   │               │  finds 7 − 10 = −3, at the tally's place in the order of costing
 *     written later   │  line −2 ─────┤  dated before T: T still says 7, so +2 comes back from its difference,
 *                                        at the place of that later line
 *
 * Lines of smaller `costSeq` are what the tally is compared with; each line of larger `costSeq` dated at or before it
 * brings its counter-movement against the first tally at or after it (of two at one minute: the one booked later).
 */
export function deriveDifferences(lines: readonly CellLine[], tallies: readonly CellTally[]): Derived[] {
  const derived: Derived[] = []
  const placed: { at: number; delta: Quantity }[] = []
  const known: CellTally[] = []
  const firstFrom = (at: number, self?: CellTally): CellTally | undefined => {
    let best: CellTally | undefined
    for (const t of known) {
      if (t === self || t.countedAt < at || (self && t.countedAt === at)) continue
      if (!best || t.countedAt < best.countedAt || (t.countedAt === best.countedAt && t.costSeq > best.costSeq))
        best = t
    }
    return best
  }
  const counter = (cause: Key, at: number, delta: Quantity, self?: CellTally) => {
    const t = delta === 0n ? undefined : firstFrom(at, self)
    if (!t) return
    const account = t.closed && t.closed.costSeq < cause.costSeq ? t.closed.account : t.account
    placed.push({ at: t.countedAt, delta: -delta })
    derived.push({
      tallyId: t.id,
      costSeq: cause.costSeq,
      part: cause.part,
      account,
      delta: -delta,
      at: t.countedAt,
      own: false,
    })
  }
  const events = [
    ...lines.map(line => ({ line, tally: undefined, costSeq: line.costSeq, part: line.part })),
    ...tallies.map(tally => ({ tally, line: undefined, costSeq: tally.costSeq, part: tally.part })),
  ].sort((a, b) => a.costSeq - b.costSeq || a.part - b.part)
  for (const { line, tally } of events) {
    if (line) {
      placed.push({ at: line.effectiveAt, delta: line.delta })
      counter(line, line.effectiveAt, line.delta)
    } else {
      const expected = placed.reduce((sum, p) => (p.at <= tally!.countedAt ? sum + p.delta : sum), 0n)
      const delta = tally!.counted - expected
      placed.push({ at: tally!.countedAt, delta })
      derived.push({
        tallyId: tally!.id,
        costSeq: tally!.costSeq,
        part: tally!.part,
        account: tally!.account,
        delta,
        at: tally!.countedAt,
        own: true,
      })
      known.push(tally!)
      counter(tally!, tally!.countedAt, delta, tally)
    }
  }
  return derived
}
