import { and, desc, eq, isNull, or, type SQL, sql } from 'drizzle-orm'
import { alias } from 'drizzle-orm/sqlite-core'
import type { SlipRow } from '@shelve/contract'
import { formatDecimal } from '@shelve/core'
import { among, eachInPieces, holds, iso, letIn, nextPiece, readCursor, writeCursor } from '../ground/index.ts'
import { slip, slipValue, unpricedSlips } from '../ledger/index.ts'
import { slipScope } from '../papers/index.ts'
import { person } from '../people/index.ts'
import { place } from '../places/index.ts'
import { about, type Caller, reach, type Scope, scopeOf, seesValue } from '../rights/index.ts'
import { type Bar, movedSeldom, slipsBehind } from './behind.ts'
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

/** How a slip is placed in the list: by when it was booked or saved, then by its number. */
type Placed = readonly [at: number, id: number]
const at = sql<number>`coalesce(${slip.bookedAt}, ${slip.savedAt})`
// By two values at once SQLite would go through the index from its end: the first of them alone finds where to begin.
const later = ([time, id]: Placed) => sql`${at} <= ${time} and (${at}, ${slip.id}) < (${time}, ${id})`
const notEarlier = ([time, id]: Placed) => sql`${at} >= ${time} and (${at}, ${slip.id}) >= (${time}, ${id})`

/** What is wanted of slips, and whether it is found at once, however many others there are. */
interface Wanted {
  readonly where: SQL | undefined
  readonly few: boolean
  /** None is wanted that stands below this. */
  readonly last: Placed | undefined
}

/**
 * A page of slips, latest first: booked ones by when they were booked, drafts by when they were saved, mine first. With a
 * `flow` they are those behind a bar of the look back, wherever they were written. What is seldom among many is looked for
 * in pieces, others being let in, `first` slips in the first.
 */
export async function listSlips(
  house: House,
  caller: Caller,
  query: Asked,
  asked: Scope = scopeOf(house, caller, query.place),
  first = PIECE,
) {
  const q = (query.category || query.item) && !query.flow ? { ...query, flow: 'any' } : query
  const scope = q.flow ? reach(house, caller) : asked
  const limit = q.limit ?? 50
  const wanted = wantedOf(house, caller, q, scope, asked)
  const rows: Found[] = []
  let from = readCursor(q.cursor, ['number', 'number']) as Placed | undefined
  for (let piece = first; ;) {
    const began = performance.now()
    const next = wanted.few ? undefined : after(house, from, piece)
    const until = next && (!wanted.last || next[0] > wanted.last[0]) ? next : wanted.last
    rows.push(...found(house, wanted.where, from, until, limit + 1 - rows.length))
    if (rows.length > limit || !until || until === wanted.last) break
    piece = nextPiece(piece, performance.now() - began, MOST)
    from = until
    await letIn()
  }
  const shown = rows.slice(0, limit)
  const out: SlipRow[] = []
  await eachInPieces(shown, r => out.push(rowOf(house, caller, r)))
  const last = shown.at(-1)
  return {
    rows: q.state === 'draft' ? out.sort((a, b) => Number(b.mine) - Number(a.mine)) : out,
    next: rows.length > limit && last ? writeCursor([last.at, last.s.id]) : null,
    total: null,
  }
}
/** So many slips are looked at in the first piece, and in any. */
const PIECE = 500
const MOST = 20_000

/** The slip that stands so many further down the list, or nothing where it ends before. */
function after(house: House, from: Placed | undefined, piece: number): Placed | undefined {
  const row = house.db
    .select({ at: at.mapWith(Number), id: slip.id })
    .from(slip)
    .where(from && later(from))
    .orderBy(desc(at), desc(slip.id))
    .limit(1)
    .offset(piece)
    .get()
  return row && [row.at, row.id]
}

const wantedOf = (house: House, caller: Caller, q: Asked, scope: Scope, asked: Scope): Wanted => {
  const { within } = scope
  const accounts = q.party && q.partyId && !q.flow ? accountsOf(house, q.party, q.partyId) : undefined
  const day = q.person ? slip.bookedAt : slip.effectiveAt
  const behind = q.flow ? slipsBehind(house, q, asked) : undefined
  const where = and(
    q.from && !q.flow ? sql`${day} >= ${startOfDay(house, q.from)}` : undefined,
    q.to && !q.flow ? sql`${day} < ${endOfDay(house, q.to)}` : undefined,
    q.person ? sql`${slip.bookedBy} = (select id from person where uid = ${q.person})` : undefined,
    q.at === 'none' ? isNull(slip.placeId) : q.at ? eq(slip.placeId, house.places.id(q.at) ?? 0) : undefined,
    accounts
      ? sql`exists (select 1 from movement m where m.slip_id = ${slip.id}
          and ${or(among(sql`m.to_id`, accounts), among(sql`m.from_id`, accounts))})`
      : undefined,
    // Nearly all slips are booked: by that index SQLite would fetch and sort every one of them. `+` keeps it from doing so.
    q.state === 'unpriced'
      ? among(slip.id, seesValue(house, caller, scope) ? unpricedSlips(house).map(r => r.slip) : [])
      : q.state === 'booked'
        ? sql`+${slip.state} = 'booked'`
        : q.state
          ? eq(slip.state, q.state)
          : undefined,
    q.kind ? eq(slip.kind, q.kind) : undefined,
    within
      ? scope !== reach(house, caller)
        ? among(slip.placeId, within)
        : or(among(slip.placeId, within), eq(slip.createdBy, caller.id))
      : undefined,
    q.mine ? eq(slip.createdBy, caller.id) : undefined,
    ...wordsIn(q.q).map(w => bearing(house, w)),
    behind?.where,
  )
  // Nothing is booked before it happens.
  const last: Placed | undefined = q.from && q.state === 'booked' ? [startOfDay(house, q.from), 0] : undefined
  // Where nothing is asked for that may be seldom, a page is full at once.
  const all = [q.flow, q.kind, q.mine, q.q, q.from, q.to, q.person, q.at, accounts, within].every(x => x === undefined)
  return { where, last, few: all || behind?.few || q.state === 'draft' || q.state === 'unpriced' }
}

type Found = ReturnType<typeof found>[number]
function found(
  house: House,
  wanted: SQL | undefined,
  from: Placed | undefined,
  until: Placed | undefined,
  limit: number,
) {
  const writer = alias(person, 'writer')
  return house.db
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
    .where(and(wanted, from && later(from), until && notEarlier(until)))
    .orderBy(desc(at), desc(slip.id))
    .limit(limit)
    .all()
}

const rowOf = (house: House, caller: Caller, r: Found): SlipRow =>
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
  })

const FEW_ITEMS = 40

const wordsIn = (q: string | undefined): string[] => (q ?? '').split(/\s+/).filter(Boolean).slice(0, 8)

/**
 * Slips that bear a word: in their number, title or taker, by whoever wrote them, or on a line by the name or code of its
 * item. Booked ones are found by an index of every three letters (a shorter word by looking at each), drafts, which are
 * few, by looking at them.
 */
function bearing(house: House, word: string): SQL {
  const here = or(...[slip.number, slip.title, slip.taker].map(of => holds(of, word)))!
  const items = sql`from item where ${or(...['name', 'code'].map(of => holds(sql.raw(of), word)))}`
  const meant = house.db.get<{ n: bigint }>(sql`select count(*) as n from (select 1 ${items} limit ${FEW_ITEMS + 1})`)
  const own = isIndexed(word) ? sql`(${slip.state} = 'draft' and ${here})` : here
  const indexed = isIndexed(word)
    ? sql`or ${slip.id} in (select rowid from slip_search where slip_search match ${asItStands(word)})`
    : sql``
  // Of few items that moved seldom their slips are looked up; where many are meant, nearly every slip bears one: each is asked
  // as it comes.
  const moved =
    meant.n <= FEW_ITEMS && movedSeldom(house, sql`select id ${items}`)
      ? sql`${slip.id} in (select m.slip_id from movement m where m.item_id in (select id ${items}))`
      : sql`exists (select 1 from movement m where m.slip_id = ${slip.id} and +m.item_id in (select id ${items}))`
  const lines = meant.n
    ? sql`or ${moved} or (${slip.state} = 'draft' and exists (
        select 1 from slip_line l where l.slip_id = ${slip.id}
          and json_extract(l.content, '$.item') in (select uid ${items})
      ))`
    : sql``
  const people = sql`select id from person where ${holds(sql.raw('name'), word)}`
  return sql`(${own} ${indexed} or coalesce(${slip.bookedBy}, ${slip.createdBy}) in (${people}) ${lines})`
}
