import { sql } from 'drizzle-orm'
import type { Often } from '@shelve/contract'
import { among, letIn, once } from '../ground/index.ts'
import type { House } from './house.ts'

/**
 * So many slips of the kind that is asked for, the latest, say what is usual: that changes. They are looked for among so many
 * at once, of all places, and so far back.
 */
const [SLIPS, AT_ONCE, BACK] = [120, 2000, 40_000]
const MOST = 8

export interface OftenAsked {
  readonly kind: string
  readonly place: string
  readonly job?: string | undefined
  readonly costCentre?: string | undefined
  readonly supplier?: string | undefined
}

const statements = once((house: House) => {
  const { client } = house.store
  const heads = client.prepare<unknown[], { id: number; seq: number; fits: number }>(
    // Only of those of that kind and place the head is read.
    `select id, last_seq as seq, kind = :kind and place_id = :place
        and (:job is null or json_extract(head, '$.head.job') = :job)
        and (:costCentre is null or json_extract(head, '$.head.costCentre') = :costCentre)
        and (:supplier is null or json_extract(head, '$.head.supplier') = :supplier) as fits
      from slip where last_seq < :before order by last_seq desc limit ${AT_ONCE}`,
  )
  return { heads: heads.safeIntegers(false) }
})

/** The latest slips of a kind in a place, for whom or from whom they are. Others are let in meanwhile. */
async function latest(house: House, place: number, asked: OftenAsked): Promise<number[]> {
  const found: number[] = []
  let before = Number.MAX_SAFE_INTEGER
  for (let seen = 0; seen < BACK && found.length < SLIPS;) {
    const { kind, job = null, costCentre = null, supplier = null } = asked
    const rows = statements(house).heads.all({ kind, place, job, costCentre, supplier, before })
    found.push(...rows.flatMap(r => (r.fits ? [r.id] : [])))
    seen += rows.length
    if (rows.length < AT_ONCE) break
    before = rows.at(-1)!.seq
    await letIn()
  }
  return found.slice(0, SLIPS)
}

/** The items that stand on most of the latest slips of a kind in a place, for whom or from whom they are; most first. */
export async function oftenWritten(house: House, asked: OftenAsked): Promise<Often[]> {
  const place = house.places.id(asked.place)!
  // What goes out is offered where some of it lies.
  const lies =
    asked.kind === 'receipt' || asked.kind === 'bring_back'
      ? sql``
      : sql`and id in (select b.item_id from balance b join place_within w on w.place_id = b.place_id where w.ancestor_id = ${place} and b.quantity > 0)`
  return house.db
    .all<{ item: string; unit: string | null; n: number }>(
      sql`
        with written as (
          select slip_id, id, json_extract(content, '$.item') as item, json_extract(content, '$.unit') as unit
          from slip_line where ${among(sql.raw('slip_id'), await latest(house, place, asked))}
        )
        select item, unit, count(distinct slip_id) as n, max(id) as latest from written
        where item in (select uid from item where active ${lies}) group by item order by n desc, latest desc limit ${MOST}`,
    )
    .map(r => ({ item: r.item, unit: r.unit, n: Number(r.n) }))
}
