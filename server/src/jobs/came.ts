import { and, desc, eq, sql } from 'drizzle-orm'
import type { JobView } from '@shelve/contract'
import {
  deviationOf,
  type Fact,
  type FactKind,
  formatDecimal,
  GIVING_KINDS,
  givesUp,
  groupBy,
  type Quantity,
} from '@shelve/core'
import { named } from '../catalogue/index.ts'
import { account } from '../accounts/index.ts'
import { atOnce, givingWay, iso, once } from '../ground/index.ts'
import { factsAt, movement, slip, SqlBooks } from '../ledger/index.ts'
import { about, isIn } from '../rights/index.ts'
import { needReader } from './of-needs.ts'
import type { House } from './house.ts'
import { type Looked, scopeOfJob } from './looked.ts'
import { madeFor } from './made.ts'
import { byTemplate, formulaOfJob } from './planning.ts'
import { isOpen, type NeedRow, needsOfJob, plannedById } from './rows.ts'
import { quantityOf, summed, UNUSED, type Used } from './used.ts'

const d = formatDecimal

/** A job, and from where it is looked at. */
type OfJob = Pick<Looked, 'house' | 'seen' | 'planned'>

/** How what was used for a need stands beside what was planned at what really came (rule 66). */
export interface Came {
  readonly planned: string | null
  readonly deviation: string | null
  readonly deviationWorth: string | null
  readonly usedWorth: string | null
}
/**
 * Of each need of a job. A job that makes something is held against what came of it; one that only uses against all that it
 * needs, once it is over. `oneOf`: what one of a need's item costs where the job is done.
 */
export function cameOf(
  of: Looked & { readonly rows: readonly NeedRow[] },
  { made, used }: Pick<InTheBooks, 'made' | 'used'>,
  oneOf: (n: NeedRow) => bigint | null,
): (n: NeedRow) => Came {
  const { house, planned } = of
  const makes = planned.plan.outputId !== null
  const at = makes && made > 0n ? byTemplate(house, formulaOfJob(house, planned, of.rows), made) : undefined
  return n => {
    const u = used.get(n.id) ?? UNUSED
    const need = makes ? at && (at.get(n.itemId)?.quantity ?? 0n) : isOpen(planned.job) ? undefined : n.quantity
    const quantity = quantityOf(u)
    if (need === undefined)
      return { planned: null, deviation: null, deviationWorth: null, usedWorth: quantity ? d(u.value) : null }
    const { quantity: deviation, value } = deviationOf({ need, used: quantity, value: u.value, one: oneOf(n) })
    return {
      planned: d(need),
      deviation: d(deviation),
      deviationWorth: value === null ? null : d(value),
      usedWorth: d(u.value),
    }
  }
}

/** So many slips are told of. */
const MOST = 50
const statements = once((house: House) => {
  const job = sql.placeholder('job')
  return {
    /** Whether anything of a job was booked after a movement. */
    since: house.store.client.prepare(
      `select 1 from movement m join account f on f.id = m.from_id join account t on t.id = m.to_id
         left join movement o on o.seq = m.revalues
       where m.seq > :after and :job in (m.job_id, f.job_id, t.job_id, o.job_id) limit 1`,
    ),
    wasted: house.db
      .select({ costSeq: movement.costSeq, to: movement.toId, name: account.name })
      .from(movement)
      .innerJoin(account, eq(account.id, movement.toId))
      .where(and(eq(movement.jobId, job), eq(account.kind, 'waste')))
      .prepare(),
    slips: house.db
      .select({
        id: slip.uid,
        number: slip.number,
        kind: slip.kind,
        title: slip.title,
        at: slip.effectiveAt,
        placeId: slip.placeId,
      })
      .from(slip)
      .where(
        sql`${slip.jobId} = ${job} or (${slip.state} = 'booked' and ${slip.id} in (select m.slip_id from movement m where m.job_id = ${job}))`,
      )
      .orderBy(desc(slip.id))
      .limit(MOST + 1)
      .prepare(),
    beside: house.db
      .select({ costSeq: movement.costSeq })
      .from(movement)
      // What was charged to somebody else since stands on a slip of theirs; a line that was for it alone on one of several.
      .where(
        // What went into makes, and came of them, is on their slips; a make of forty things again and again is much to read.
        sql`${movement.needId} is null and ${movement.kind} in ${BESIDE} and ${movement.seq} in (
          select m.seq from movement m where m.slip_id in (select id from slip where job_id = ${job})
          union select m.seq from movement m where m.job_id = ${job}
          union select m.seq from movement m where m.kind in ('back', 'recharge', 'spoil') and m.from_id in (select id from account where job_id = ${job}))`,
      )
      .prepare(),
  }
})

/** What was wasted for a job, by item and reason. */
function wastedFor(of: OfJob): JobView['wasted'] {
  const { house, planned } = of
  const reason = new Map<number, string>()
  const rows = statements(house).wasted.all({ job: planned.job.id })
  for (const r of rows) reason.set(r.to, r.name)
  const facts = factsAt(house, new SqlBooks(house), rows).filter(
    f => f.jobId === planned.job.id && f.quantity > 0n && reason.has(f.to),
  )
  return [...groupBy(facts, f => `${f.itemId}.${f.to}`).values()].map(same =>
    about(scopeOfJob(of), {
      item: named(house.known.itemById(same[0]!.itemId)!),
      quantity: d(same.reduce((sum, f) => sum + f.quantity, 0n)),
      reason: reason.get(same[0]!.to)!,
      worth: d(same.reduce((sum, f) => sum + f.value, 0n)),
    }),
  )
}

/** What was booked for a job, the latest first: of places that may be looked into; and whether there is more of it. */
function slipsFor({ house, seen, planned }: OfJob): Pick<JobView, 'slips' | 'earlier'> {
  const rows = statements(house).slips.all({ job: planned.job.id })
  const slips = rows
    .slice(0, MOST)
    .filter(s => s.placeId === null || isIn(seen, s.placeId))
    .map(({ placeId: _, number, kind, at, ...s }) => ({
      ...s,
      number: number!,
      kind: kind as JobView['slips'][number]['kind'],
      at: iso(at!),
    }))
  return { slips, earlier: rows.length > MOST }
}

/** What was taken for a job beside what it needs: handed out to it, net of what came back. */
function besideOf(of: OfJob): JobView['others'] {
  const { house, planned } = of
  const moved = statements(house).beside.all({ job: planned.job.id })
  const books = new SqlBooks(house)
  const isOwn = (a: number) => books.making.jobOf(a) === planned.job.id
  const { sourceOf } = needReader(house)
  /** What answers no need: as taken, and as given up where it is charged on from a line that answered none. */
  const beside = (f: Fact) =>
    (f.needId === undefined && isTaken(f) && isOwn(f.to)) ||
    (givesUp(f.kind) && isOwn(f.from) && (f.kind === 'recharge' ? sourceOf(f) : f.needId) === undefined)
  const facts = factsAt(house, books, moved).filter(f => f.quantity > 0n && beside(f))
  return [...groupBy(facts, f => f.itemId)].flatMap(([item, same]) => {
    const sum = (what: 'quantity' | 'value') =>
      same.reduce((s, f) => s + (givesUp(f.kind) && isOwn(f.from) ? -f[what] : f[what]), 0n)
    return sum('quantity') <= 0n
      ? []
      : [
          about(scopeOfJob(of), {
            item: named(house.known.itemById(item)!),
            quantity: d(sum('quantity')),
            worth: d(sum('value')),
          }),
        ]
  })
}
const TAKEN: readonly FactKind[] = ['out', 'direct', 'recharge']
/** Kinds of what may be taken for a job beside what it needs, and of what comes back of that. */
const BESIDE: readonly FactKind[] = [...new Set([...TAKEN, ...GIVING_KINDS])]
const isTaken = (f: Pick<Fact, 'kind'>) => TAKEN.includes(f.kind)

/** What was used for an earlier job, by item: a proposal for the next one. */
function* usedLast(house: House, jobId: number): Generator<undefined, ReadonlyMap<number, bigint>> {
  const needs = needsOfJob(house, jobId)
  const used = yield* summed(house, needs)
  return new Map(needs.map(n => [n.itemId, quantityOf(used.get(n.id) ?? UNUSED)]))
}

/** What the books say of a job. */
export interface InTheBooks extends Pick<JobView, 'wasted' | 'others' | 'slips' | 'earlier'> {
  readonly used: ReadonlyMap<number, Used>
  readonly made: Quantity
  /** What was used for the job before, by item; undefined: there is none. */
  readonly last: ReadonlyMap<number, Quantity> | undefined
}
function* reading(of: OfJob): Generator<undefined, InTheBooks> {
  const { house, planned } = of
  const used = yield* summed(house, needsOfJob(house, planned.job.id))
  const others = besideOf(of)
  yield
  const wasted = wastedFor(of)
  yield
  const slips = slipsFor(of)
  yield
  const { followsId } = planned.plan
  const last = followsId === null ? undefined : yield* usedLast(house, plannedById(house, followsId).job.id)
  return { used, others, wasted, ...slips, last, made: madeFor(house, planned.job.id) }
}
/** So often what the books say of a job is read in pieces, where something of it is booked meanwhile; then in one go. */
const TRIES = 3
/** The same of one moment, others being let in while it is read. */
export async function inTheBooks(of: OfJob): Promise<InTheBooks> {
  const { house, planned } = of
  for (let tries = 0; tries < TRIES; tries++) {
    const after = house.ledger.lastSeq.get()!.seq
    const read = await givingWay(reading(of))
    if (!statements(house).since.get({ after, job: planned.job.id })) return read
  }
  return atOnce(reading(of))
}
