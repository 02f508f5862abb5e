import { sql } from 'drizzle-orm'
import type { Often } from '@shelve/contract'
import type { House } from './house.ts'

/** So many slips back are looked at, and of them so many of the kind that is asked for: what is usual changes. */
const BACK = 4000
const SLIPS = 120
const MOST = 8

export interface OftenAsked {
  readonly kind: string
  readonly place: string
  readonly job?: string | undefined
  readonly costCentre?: string | undefined
  readonly supplier?: string | undefined
}

/** The items that stand on most of the latest slips of a kind in a place, for whom or from whom they are; most first. */
export function oftenWritten(house: House, asked: OftenAsked): Often[] {
  const of = (field: string, value: string | undefined) =>
    value ? sql`and json_extract(head, ${`$.head.${field}`}) = ${value}` : sql``
  const place = house.places.id(asked.place)
  // What goes out is offered where some of it lies.
  const lies =
    asked.kind === 'receipt' || asked.kind === 'bring_back'
      ? sql``
      : sql`and id in (select b.item_id from balance b join place_within w on w.place_id = b.place_id where w.ancestor_id = ${place} and b.quantity > 0)`
  return house.db
    .all<{ item: string; unit: string | null; n: number }>(
      sql`
        with late as (select id, kind, place_id, head from slip where last_seq is not null order by last_seq desc limit ${BACK}),
        those as (
          select id from late where kind = ${asked.kind} and place_id = ${place}
            ${of('job', asked.job)} ${of('costCentre', asked.costCentre)} ${of('supplier', asked.supplier)}
          limit ${SLIPS}
        ),
        written as (
          select l.slip_id, l.id, json_extract(l.content, '$.item') as item, json_extract(l.content, '$.unit') as unit
          from slip_line l join those on those.id = l.slip_id
        )
        select item, unit, count(distinct slip_id) as n, max(id) as latest from written
        where item in (select uid from item where active ${lies}) group by item order by n desc, latest desc limit ${MOST}`,
    )
    .map(r => ({ item: r.item, unit: r.unit, n: Number(r.n) }))
}
