import { and, eq, isNotNull, isNull, sql } from 'drizzle-orm'
import { alias } from 'drizzle-orm/sqlite-core'
import type { Movement, Quantity } from '@shelve/core'
import { account } from '../accounts/index.ts'
import { once } from '../ground/index.ts'
import { movement, need } from '../ledger/index.ts'
import type { House } from './house.ts'

/** What movements say of a need: they take for it or give back, or are charged on from whom they were taken for (`gives`). */
export interface OfNeed {
  readonly needId: number
  readonly kind: Movement['kind']
  readonly quantity: Quantity
  readonly fromKind: string | undefined
  readonly undoes: boolean
  readonly gives: boolean
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
export const comesBack = (m: OfNeed): boolean =>
  m.kind === 'recharge' ? m.gives !== m.undoes : m.fromKind === 'used' || m.fromKind === 'made'
