import { and, eq, isNotNull, isNull, sql } from 'drizzle-orm'
import { alias } from 'drizzle-orm/sqlite-core'
import {
  drawOn,
  groupBy,
  type Movement,
  type OpenNeed,
  type Quantity,
  stillComing,
  type Taken,
  usedOf,
} from '@shelve/core'
import { account } from '../accounts/index.ts'
import { job } from '../costcentres/index.ts'
import { once } from '../ground/index.ts'
import { movement, need, reservation } from '../ledger/index.ts'
import type { Demand, Made } from '../position/index.ts'
import { besidesComing, besideStatement } from './besides.ts'
import type { House } from './house.ts'
import { madeBy, madeStatement } from './made.ts'
import { isOpenJob } from './open.ts'
import { jobPlan } from './tables.ts'
import { pickedReader } from './with-job.ts'

/**
 * What jobs that are not over want of some items (undefined: of all) and bring of them; `also` with movements that are not
 * written yet. Prepared once: it is asked anew after every booking.
 */
export function demandSource(house: House): House['sources']['demand'] {
  const needs = [false, true].map(some => needStatement(house, some))
  const outputs = [false, true].map(some => outputStatement(house, some))
  const besides = [false, true].map(some => besideStatement(house, some))
  const made = madeStatement(house)
  const reserved = house.db
    .select()
    .from(reservation)
    .where(sql`${reservation.needId} in (select value from json_each(${sql.placeholder('needs')}))`)
    .orderBy(reservation.id)
    .prepare()
  const taken = needReader(house)
  const pickedOf = pickedReader(house)
  return (ids, also = []) => {
    const asked = { ids: JSON.stringify(ids ?? []) }
    const rows = needs[ids ? 1 : 0]!.all(asked)
    const out = new Map<number, Demand>()
    const outputRows = outputs[ids ? 1 : 0]!.all(asked)
    const besideRows = besidesComing(house, besides[ids ? 1 : 0]!.all(asked), made, also)
    if (rows.length) {
      const list = JSON.stringify(rows.map(n => n.needId))
      const all = takenFor(house, taken, list, also)
      const picked = pickedOf(
        rows.map(n => n.itemId),
        also,
      )
      const byNeed = groupBy(reserved.all({ needs: list }), r => r.needId)
      for (const [itemId, of] of groupBy(rows, n => n.itemId)) {
        const taken = of.flatMap(n => all.get(n.needId) ?? [])
        const sums = usedOf(taken.filter(isUsed))
        // What lies with the job is as good as taken (rule 15).
        const met = (n: (typeof of)[number]) => (sums.get(n.needId) ?? 0n) + (picked.get(`${n.jobId}.${itemId}`) ?? 0n)
        out.set(itemId, {
          needs: of.map((n): OpenNeed => ({ ...n, used: met(n) })),
          reservations: drawOn(
            of.flatMap(n => byNeed.get(n.needId) ?? []),
            taken.filter(isDrawn),
            (place, outer) => house.places.within(outer).has(place),
          ),
          made: [],
        })
      }
    }
    if (!outputRows.length && !besideRows.length) return out
    const today = house.today()
    const came = madeBy(made, outputRows, also)
    const makings = [
      // What was made of it is there already: as much as still is to be made is coming.
      ...outputRows.map(m => ({ ...m, quantity: m.quantity - (came.get(m.jobId) ?? 0n) })),
      ...besideRows,
    ]
    for (const [itemId, of] of groupBy(makings, m => m.itemId!)) {
      const made = of.flatMap((m): Made[] => {
        const day = m.day ?? today
        return m.quantity > 0n ? [{ ...m, day, counts: stillComing(day, today, house.organisation!.patienceDays) }] : []
      })
      out.set(itemId, { ...(out.get(itemId) ?? { needs: [], reservations: [] }), made })
    }
    return out
  }
}

const among = (some: boolean, column: typeof need.itemId | typeof jobPlan.outputId) =>
  some ? sql`${column} in (select value from json_each(${sql.placeholder('ids')}))` : undefined

const needStatement = (house: House, some: boolean) =>
  house.db
    .select({
      needId: need.id,
      jobId: need.jobId,
      itemId: need.itemId,
      placeId: jobPlan.placeId,
      day: jobPlan.day,
      quantity: need.quantity,
    })
    .from(need)
    .innerJoin(job, eq(job.id, need.jobId))
    .innerJoin(jobPlan, eq(jobPlan.jobId, need.jobId))
    .where(and(isOpenJob, among(some, need.itemId)))
    .orderBy(need.id)
    .prepare()

const outputStatement = (house: House, some: boolean) =>
  house.db
    .select({
      jobId: jobPlan.jobId,
      itemId: jobPlan.outputId,
      placeId: jobPlan.placeId,
      quantity: jobPlan.wanted,
      day: jobPlan.day,
    })
    .from(jobPlan)
    .innerJoin(job, eq(job.id, jobPlan.jobId))
    .where(and(isOpenJob, isNotNull(jobPlan.outputId), among(some, jobPlan.outputId)))
    .prepare()

/** A movement that says something of a need: it takes for it or gives back, or is charged on from whom it was taken for (`gives`). */
export interface OfNeed {
  readonly needId: number
  readonly seq: number
  readonly kind: Movement['kind']
  readonly costSeq: number
  readonly part: number
  readonly lotId: number
  readonly from: number
  readonly to: number
  readonly quantity: Quantity
  readonly fromKind: string | undefined
  readonly undoes: boolean
  readonly gives: boolean
}
/**
 * Reads what movements say of some needs. What is charged to somebody else answers the need of whoever has it by then; that it
 * is gone from the need it was taken for follows from the line that it was charged on from.
 */
export const needReader = once(prepareReader)
function prepareReader(house: House) {
  const source = alias(movement, 'source')
  const columns = {
    seq: movement.seq,
    kind: movement.kind,
    costSeq: movement.costSeq,
    part: movement.part,
    lotId: movement.lotId,
    from: movement.fromId,
    to: movement.toId,
    quantity: movement.quantity,
    fromKind: account.kind,
    reverses: movement.reverses,
  }
  const among = (column: typeof movement.needId | typeof source.needId) =>
    sql`${column} in (select value from json_each(${sql.placeholder('needs')}))`
  const own = house.db
    .select({ needId: movement.needId, ...columns })
    .from(movement)
    .innerJoin(account, eq(account.id, movement.fromId))
    .where(and(isNotNull(movement.needId), among(movement.needId)))
    .prepare()
  const charged = house.db
    .selectDistinct({ needId: source.needId, ...columns })
    .from(source)
    .innerJoin(movement, and(eq(movement.refCostSeq, source.costSeq), eq(movement.refPart, source.part)))
    .innerJoin(account, eq(account.id, movement.fromId))
    .where(and(isNotNull(source.needId), among(source.needId), isNull(source.reverses), eq(movement.kind, 'recharge')))
    .prepare()
  const needAt = house.store.client
    .prepare(
      'select need_id from movement where cost_seq = ? and part = ? and need_id is not null and reverses is null order by seq desc limit 1',
    )
    .pluck()
    .safeIntegers(false)
  const kindOf = (id: number) => house.rows.account.get({ id })?.kind
  return {
    /** The need that a line was taken for from which something was charged on. */
    sourceOf: (of: { readonly refCostSeq: number | null; readonly refPart: number | null }): number | undefined =>
      of.refCostSeq === null ? undefined : (needAt.get(of.refCostSeq, of.refPart) as number | undefined),
    written: (needs: string): OfNeed[] =>
      [own, charged].flatMap((statement, i) =>
        statement
          .all({ needs })
          .map(
            ({ reverses, ...m }) => ({ ...m, needId: m.needId!, undoes: reverses !== null, gives: i === 1 }) as OfNeed,
          ),
      ),
    /** The same of movements that are not written yet. */
    unwritten(also: readonly Movement[]): OfNeed[] {
      return also.flatMap(m => {
        const of = { ...m, fromKind: kindOf(m.from), undoes: m.reverses !== null }
        const gave = m.kind === 'recharge' ? this.sourceOf(m) : undefined
        return [
          ...(m.needId === undefined ? [] : [{ ...of, needId: m.needId, gives: false }]),
          ...(gave === undefined ? [] : [{ ...of, needId: gave, gives: true }]),
        ]
      })
    },
  }
}
export type NeedReader = ReturnType<typeof prepareReader>

/** Something that was taken for a need; `picked`: put with the job, or (`fromJob`) used from there. */
interface TakenFor extends Taken {
  readonly picked: boolean
  readonly fromJob: boolean
}
const isUsed = (t: TakenFor): boolean => !t.picked
/** What draws on what was set aside: what leaves a shelf for the job. What is used from where it was put with it has drawn already. */
const isDrawn = (t: TakenFor): boolean => !t.fromJob

/** What was used for needs and came back, by need; what went straight to its user came from no place. */
export function usedFor(house: House, taken: NeedReader, needs: string): Map<number, readonly Taken[]> {
  const all = takenFor(house, taken, needs)
  return new Map([...all].map(([need, of]) => [need, of.filter(isUsed)]))
}
function takenFor(
  house: House,
  taken: NeedReader,
  needs: string,
  also: readonly Movement[] = [],
): Map<number, TakenFor[]> {
  const rows = [...taken.written(needs), ...taken.unwritten(also)]
  const isWith = (id: number) => house.places.row(id)?.kind === 'with_job'
  return groupBy(
    rows.map((m): TakenFor => {
      const picked = m.kind === 'move'
      // Of what was used, or went into a make, it comes back; or out of the crate that was put with the job.
      const back = picked
        ? isWith(m.from)
        : m.kind === 'recharge'
          ? m.gives !== m.undoes
          : m.fromKind === 'used' || m.fromKind === 'made'
      const placeId = back ? m.to : m.from
      return {
        needId: m.needId,
        seq: m.seq,
        lotId: m.lotId,
        placeId,
        quantity: back ? -m.quantity : m.quantity,
        picked,
        fromJob: !picked && isWith(placeId),
      }
    }),
    t => t.needId,
  )
}

/** The needs of a job, by item: prepared once, since every slip for a job asks. */
export function needSource(house: House): House['sources']['needs'] {
  const st = house.db
    .select({ id: need.id, itemId: need.itemId })
    .from(need)
    .where(eq(need.jobId, sql.placeholder('job')))
    .prepare()
  return job => new Map(st.all({ job }).map(n => [n.itemId, n.id]))
}
