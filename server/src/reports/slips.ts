import { and, desc, eq, inArray, isNull, or, type SQL, sql } from 'drizzle-orm'
import { alias } from 'drizzle-orm/sqlite-core'
import type { SlipRow } from '@shelve/contract'
import { formatDecimal } from '@shelve/core'
import { iso, readCursor, writeCursor } from '../ground/index.ts'
import { slip, slipValue, unpricedSlips } from '../ledger/index.ts'
import { slipScope } from '../papers/index.ts'
import { person } from '../people/index.ts'
import { place } from '../places/index.ts'
import { about, type Caller, reach, type Scope, scopeOf, seesValue } from '../rights/index.ts'
import { type Bar, slipsBehind } from './behind.ts'
import type { House } from './house.ts'
import { accountsOf } from './lookback.ts'
import { endOfDay, startOfDay } from './past.ts'
import { asItStands, isIndexed } from './three-letters.ts'

interface Asked extends Bar {
  readonly person?: string
  readonly at?: string
  readonly state?: string
  readonly kind?: string
  readonly place?: string
  readonly q?: string
  readonly mine?: string
  readonly cursor?: string | undefined
  readonly limit?: number
}

/**
 * A page of slips, latest first: booked ones by when they were booked, drafts by when they were saved, mine first. With a
 * `flow` they are those behind a bar of the look back, wherever they were written.
 */
export function listSlips(
  house: House,
  caller: Caller,
  query: Asked,
  asked: Scope = scopeOf(house, caller, query.place),
) {
  const q = (query.category || query.item) && !query.flow ? { ...query, flow: 'any' } : query
  const scope = q.flow ? reach(house, caller) : asked
  const limit = q.limit ?? 50
  const at = sql<number>`coalesce(${slip.bookedAt}, ${slip.savedAt})`
  const within = scope.within && [...scope.within]
  const cursor = readCursor(q.cursor, ['number', 'number'])
  const accounts = q.party && q.partyId && !q.flow ? accountsOf(house, q.party, q.partyId) : undefined
  const day = q.person ? slip.bookedAt : slip.effectiveAt
  const wanted = and(
    q.flow ? slipsBehind(house, q, asked) : undefined,
    q.from && !q.flow ? sql`${day} >= ${startOfDay(house, q.from)}` : undefined,
    q.to && !q.flow ? sql`${day} < ${endOfDay(house, q.to)}` : undefined,
    q.person ? sql`${slip.bookedBy} = (select id from person where uid = ${q.person})` : undefined,
    q.at === 'none' ? isNull(slip.placeId) : q.at ? eq(slip.placeId, house.places.id(q.at) ?? 0) : undefined,
    accounts
      ? sql`exists (select 1 from movement m where m.slip_id = ${slip.id}
          and (m.to_id in ${accounts.length ? accounts : [0]} or m.from_id in ${accounts.length ? accounts : [0]}))`
      : undefined,
    // Nearly all slips are booked: by that index SQLite would fetch and sort every one of them. `+` keeps it from doing so.
    q.state === 'unpriced'
      ? inArray(slip.id, seesValue(house, caller, scope) ? unpricedSlips(house).map(r => r.slip) : [])
      : q.state === 'booked'
        ? sql`+${slip.state} = 'booked'`
        : q.state
          ? eq(slip.state, q.state)
          : undefined,
    q.kind ? eq(slip.kind, q.kind) : undefined,
    within
      ? scope !== reach(house, caller)
        ? inArray(slip.placeId, within)
        : or(inArray(slip.placeId, within), eq(slip.createdBy, caller.id))
      : undefined,
    q.mine ? eq(slip.createdBy, caller.id) : undefined,
    ...wordsIn(q.q).map(w => bearing(house, w)),
  )
  const writer = alias(person, 'writer')
  const rows = house.db
    .select({
      s: slip,
      at: at.mapWith(Number),
      by: writer.name,
      place: place.id,
      lines: sql<number>`(select count(*) from slip_line where slip_line.slip_id = ${slip.id})`.mapWith(Number),
      corrected:
        sql<number>`exists (select 1 from slip c where c.corrects_id = ${slip.id} and c.state = 'booked')`.mapWith(
          Number,
        ),
    })
    .from(slip)
    .innerJoin(writer, eq(writer.id, slip.createdBy))
    .leftJoin(place, eq(place.id, slip.placeId))
    // By two values at once SQLite would go through the index from its end: the first of them alone finds where to begin.
    .where(
      and(
        wanted,
        cursor ? sql`${at} <= ${cursor[0]} and (${at}, ${slip.id}) < (${cursor[0]}, ${cursor[1]})` : undefined,
      ),
    )
    .orderBy(desc(at), desc(slip.id))
    .limit(limit + 1)
    .all()
  const shown = rows.slice(0, limit)
  const out: SlipRow[] = shown.map(r =>
    about(slipScope(house, r.s), {
      id: r.s.uid,
      kind: r.s.kind as SlipRow['kind'],
      state: r.s.state as SlipRow['state'],
      number: r.s.number,
      title: r.s.title,
      place: r.place === null ? null : house.places.name(r.place),
      at: iso(r.at),
      by: r.by,
      mine: r.s.createdBy === caller.id,
      taker: r.s.taker,
      lines: r.lines,
      corrected: r.corrected === 1,
      value: formatDecimal(slipValue(house, house.rows.movementsOf.all({ slip: r.s.id })).figure),
    }),
  )
  const last = shown.at(-1)
  return {
    rows: q.state === 'draft' ? out.sort((a, b) => Number(b.mine) - Number(a.mine)) : out,
    next: rows.length > limit && last ? writeCursor([last.at, last.s.id]) : null,
    total: null,
  }
}

const FEW_ITEMS = 40

const wordsIn = (q: string | undefined): string[] => (q ?? '').split(/\s+/).filter(Boolean).slice(0, 8)

/**
 * Slips that bear a word: in their number, title or taker, by whoever wrote them, or on a line by the name or code of its
 * item. Booked ones are found by an index of every three letters (a shorter word by looking at each), drafts, which are
 * few, by looking at them.
 */
function bearing(house: House, word: string): SQL {
  const like = `%${word.replace(/[\\%_]/g, c => `\\${c}`)}%`
  const here = sql`(${slip.number} like ${like} escape '\\' or ${slip.title} like ${like} escape '\\'
    or ${slip.taker} like ${like} escape '\\')`
  const items = sql`from item where name like ${like} escape '\\' or code like ${like} escape '\\'`
  const meant = house.db.get<{ n: bigint }>(sql`select count(*) as n from (select 1 ${items} limit ${FEW_ITEMS + 1})`)
  const own = isIndexed(word) ? sql`(${slip.state} = 'draft' and ${here})` : here
  const indexed = isIndexed(word)
    ? sql`or ${slip.id} in (select rowid from slip_search where slip_search match ${asItStands(word)})`
    : sql``
  // Of few items their slips are looked up; where many are meant, nearly every slip bears one: each is asked as it comes.
  const moved =
    meant.n <= FEW_ITEMS
      ? sql`${slip.id} in (select m.slip_id from movement m where m.item_id in (select id ${items}))`
      : sql`exists (select 1 from movement m where m.slip_id = ${slip.id} and m.item_id in (select id ${items}))`
  const lines = meant.n
    ? sql`or ${moved} or (${slip.state} = 'draft' and exists (
        select 1 from slip_line l where l.slip_id = ${slip.id}
          and json_extract(l.content, '$.item') in (select uid ${items})
      ))`
    : sql``
  const people = sql`select id from person where name like ${like} escape '\\'`
  return sql`(${own} ${indexed} or coalesce(${slip.bookedBy}, ${slip.createdBy}) in (${people}) ${lines})`
}
