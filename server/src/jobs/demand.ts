import { and, eq, isNotNull, isNull, ne, sql } from 'drizzle-orm'
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
      const picked = pickedOf(
        rows.map(n => n.itemId),
        also,
      )
      const sums = usedSoFar(taken, list, also)
      const byNeed = groupBy(reserved.all({ needs: list }), r => r.needId)
      // Where it was taken, and in which order, matters to what was set aside alone.
      const drawn = drawing(house, taken, JSON.stringify([...byNeed.keys()]), also)
      for (const [itemId, of] of groupBy(rows, n => n.itemId)) {
        // What lies with the job is as good as taken (rule 15).
        const met = (n: (typeof of)[number]) => (sums.get(n.needId) ?? 0n) + (picked.get(`${n.jobId}.${itemId}`) ?? 0n)
        out.set(itemId, {
          needs: of.map((n): OpenNeed => ({ ...n, used: met(n) })),
          reservations: drawOn(
            of.flatMap(n => byNeed.get(n.needId) ?? []),
            of.flatMap(n => drawn.get(n.needId) ?? []),
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

/** What movements say of a need: they take for it or give back, or are charged on from whom they were taken for (`gives`). */
interface SaysOfNeed {
  readonly needId: number
  readonly kind: Movement['kind']
  readonly quantity: Quantity
  readonly fromKind: string | undefined
  readonly undoes: boolean
  readonly gives: boolean
}
/** The same of one movement. */
export interface OfNeed extends SaysOfNeed {
  readonly seq: number
  readonly costSeq: number
  readonly part: number
  readonly lotId: number
  readonly from: number
  readonly to: number
}
/**
 * Reads what movements say of some needs. What is charged to somebody else answers the need of whoever has it by then; that it
 * is gone from the need it was taken for follows from the line that it was charged on from.
 */
export const needReader = once(prepareReader)
function prepareReader(house: House) {
  const source = alias(movement, 'source')
  const needs = sql.placeholder('needs')
  const among = (column: typeof movement.needId | typeof need.id) =>
    sql`${column} in (select value from json_each(${needs}))`
  const said = { kind: movement.kind, fromKind: account.kind, reverses: movement.reverses, quantity: movement.quantity }
  const columns = {
    ...said,
    seq: movement.seq,
    costSeq: movement.costSeq,
    part: movement.part,
    lotId: movement.lotId,
    from: movement.fromId,
    to: movement.toId,
  }
  const own = house.db
    .select({ needId: movement.needId, ...columns })
    .from(movement)
    .innerJoin(account, eq(account.id, movement.fromId))
    .where(and(isNotNull(movement.needId), among(movement.needId)))
    .prepare()
  // It left the account of the need's job; by what was taken for the need it would be looked for among thousands.
  const charged = house.db
    .selectDistinct({ needId: need.id, ...columns })
    .from(need)
    .innerJoin(account, and(eq(account.jobId, need.jobId), eq(account.kind, 'used')))
    .innerJoin(movement, and(eq(movement.fromId, account.id), eq(movement.kind, 'recharge')))
    .innerJoin(source, and(eq(source.costSeq, movement.refCostSeq), eq(source.part, movement.refPart)))
    .where(and(among(need.id), sql`+${source.needId} = ${need.id}`, isNull(source.reverses)))
    .prepare()
  const undone = house.db
    .select(columns)
    .from(movement)
    .innerJoin(account, eq(account.id, movement.fromId))
    .where(sql`${movement.reverses} in (select value from json_each(${sql.placeholder('seqs')}))`)
    .prepare()
  // A job that is made again and again has thousands of movements for a need: added up where they lie.
  const undoes = sql<number>`${movement.reverses} is not null`
  const summed = house.db
    .select({
      needId: movement.needId,
      kind: movement.kind,
      fromKind: account.kind,
      undoes: undoes.mapWith(Boolean),
      quantity: sql<bigint>`sum(${movement.quantity})`.mapWith(movement.quantity),
    })
    .from(movement)
    .innerJoin(account, eq(account.id, movement.fromId))
    .where(and(isNotNull(movement.needId), among(movement.needId), ne(movement.kind, 'move')))
    .groupBy(movement.needId, movement.kind, account.kind, undoes)
    .prepare()
  const needAt = house.store.client
    .prepare(
      'select need_id from movement where cost_seq = ? and part = ? and need_id is not null and reverses is null order by seq desc limit 1',
    )
    .pluck()
    .safeIntegers(false)
  const kindOf = (id: number) => house.rows.account.get({ id })?.kind
  const chargedOn = (needs: string): OfNeed[] => {
    const given = charged.all({ needs })
    if (!given.length) return []
    const needOf = new Map(given.map(m => [m.seq, m.needId]))
    const back = undone.all({ seqs: JSON.stringify([...needOf.keys()]) })
    return [...given, ...back.map(m => ({ ...m, needId: needOf.get(m.reverses!)! }))].map(m => ofNeed(m, true))
  }
  return {
    /** The need that a line was taken for from which something was charged on. */
    sourceOf: (of: { readonly refCostSeq: number | null; readonly refPart: number | null }): number | undefined =>
      of.refCostSeq === null ? undefined : (needAt.get(of.refCostSeq, of.refPart) as number | undefined),
    written: (needs: string): OfNeed[] => [...own.all({ needs }).map(m => ofNeed(m, false)), ...chargedOn(needs)],
    /** Of what is written only what was charged on from what was taken for a need. */
    chargedOn,
    /** What was used, and came back, of what is written: some movements in one. What was only put with a job is not among it. */
    used: (needs: string): SaysOfNeed[] => [
      ...summed.all({ needs }).map(m => ({ ...m, needId: m.needId!, kind: m.kind as Movement['kind'], gives: false })),
      ...chargedOn(needs),
    ],
    /** What movements say that are not written yet. */
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
const ofNeed = (
  {
    reverses,
    needId,
    ...m
  }: Omit<OfNeed, 'needId' | 'undoes' | 'gives' | 'kind'> & {
    readonly needId: number | null
    readonly kind: string
    readonly reverses: number | null
  },
  gives: boolean,
): OfNeed => ({ ...m, needId: needId!, kind: m.kind as Movement['kind'], undoes: reverses !== null, gives })

/** Whether it comes back of what was used, or went into a make. */
const comesBack = (m: SaysOfNeed): boolean =>
  m.kind === 'recharge' ? m.gives !== m.undoes : m.fromKind === 'used' || m.fromKind === 'made'

/** What was used for some needs so far, net of what came back; `also`: with movements that are not written yet. */
export function usedSoFar(
  taken: NeedReader,
  needs: string,
  also: readonly Movement[] = [],
): ReadonlyMap<number, Quantity> {
  const said = [...taken.used(needs), ...taken.unwritten(also).filter(m => m.kind !== 'move')]
  return usedOf(said.map(m => ({ needId: m.needId, quantity: comesBack(m) ? -m.quantity : m.quantity })))
}
/**
 * What draws on what was set aside, by need: what leaves a shelf for the job, to be used or put with it. What is used from where
 * it was put with it has drawn already.
 */
function drawing(
  house: House,
  taken: NeedReader,
  needs: string,
  also: readonly Movement[],
): ReadonlyMap<number, readonly Taken[]> {
  const isWith = (id: number) => house.places.row(id)?.kind === 'with_job'
  const all = [...taken.written(needs), ...taken.unwritten(also)].flatMap(m => {
    const picked = m.kind === 'move'
    const back = picked ? isWith(m.from) : comesBack(m)
    const placeId = back ? m.to : m.from
    if (!picked && isWith(placeId)) return []
    return [{ needId: m.needId, seq: m.seq, lotId: m.lotId, placeId, quantity: back ? -m.quantity : m.quantity }]
  })
  return groupBy(all, t => t.needId)
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
