import { and, desc, eq, inArray, isNull, or, sql } from 'drizzle-orm'
import { alias } from 'drizzle-orm/sqlite-core'
import { formatDecimal, workOut, type Movement, type Working } from '@shelve/core'
import type { SlipContent, SlipRow, SlipView } from '@shelve/contract'
import { person, place, slip, type slipLine } from '../db/schema.ts'
import { iso, type App } from '../app.ts'
import { notFound } from '../catalogue/service.ts'
import { readCursor, writeCursor } from '../catalogue/queries.ts'
import type { Scope } from '../places/tree.ts'
import { reach, scopeOf, seesValue, type Caller } from '../people/rights.ts'
import { accountsOf } from '../reports/lookback.ts'
import { slipsBehind, type Bar } from '../reports/behind.ts'
import { endOfDay, startOfDay } from '../reports/past.ts'
import { contentOf } from './drafts.ts'
import { unpricedSlips } from './unpriced.ts'

/** What an account is called on paper. */
export function accountName(app: App, id: number, row?: { kind: string; name: string }): string {
  if (app.places.row(id)) return app.places.name(id)
  const a = row ?? app.ids.account.get({ id })
  if (!a) return '?'
  const plain: Record<string, string> = {
    stock: 'stock',
    price_difference: 'price difference',
    loss: 'unexplained loss',
    gain: 'unexplained gain',
    opening: 'opening',
    made: 'made',
    relabel: 'relabel',
    difference: 'open difference',
  }
  return plain[a.kind] ?? a.name
}

/** A slip is seen by whoever may look into its place, or wrote it; one of no place by whoever may look everywhere. */
export function maySee(app: App, caller: Caller, s: { placeId: number | null; createdBy: number }): boolean {
  const seen = reach(app, caller)
  return !seen.within || s.createdBy === caller.id || (s.placeId !== null && seen.within.has(s.placeId))
}
const seesSlipValue = (app: App, caller: Caller, s: { placeId: number | null }): boolean =>
  seesValue(app, caller, s.placeId === null ? app.places.scope() : app.places.scope([s.placeId]))

type LineView = SlipView['lines'][number]

/** A slip whole: what was typed, what it moved, and what became of it since. */
export function slipView(app: App, caller: Caller, uid: string, known?: SlipContent): SlipView {
  const s = app.ids.slip.get({ uid })
  if (!s || !maySee(app, caller, s)) throw notFound('slip')
  const seeValue = seesSlipValue(app, caller, s)
  const content = known ?? contentOf(app, s)
  const personName = (id: number | null) => (id === null ? null : app.paper.personName.get({ id })!.name)
  const rows = s.state === 'booked' ? app.paper.lines.all({ slip: s.id }) : []
  const moved = s.state === 'booked' ? app.paper.movementsOf.all({ slip: s.id }) : []
  const fate = fates(app, s.id)
  const lines = rows.map(r =>
    lineView(
      app,
      content,
      r,
      moved.filter(m => m.lineId === r.id),
      fate,
      seeValue,
    ),
  )
  const corrects = s.correctsId === null ? undefined : app.ids.slipById.get({ id: s.correctsId })
  const correctedBy = app.paper.correctedBy.all({ id: s.id })
  return {
    id: s.uid,
    kind: s.kind as SlipView['kind'],
    state: s.state as SlipView['state'],
    number: s.number,
    revision: s.revision,
    title: s.title,
    place: s.placeId === null ? null : { id: app.places.row(s.placeId)!.uid, name: app.places.name(s.placeId) },
    effectiveAt: s.effectiveAt === null ? null : iso(s.effectiveAt),
    savedAt: iso(s.savedAt),
    savedBy: personName(s.createdBy)!,
    bookedAt: s.bookedAt === null ? null : iso(s.bookedAt),
    bookedBy: personName(s.bookedBy),
    taker: s.taker,
    content,
    lines,
    ...(seeValue ? { value: formatDecimal(slipValue(app, moved).figure) } : {}),
    corrects: corrects ? { id: corrects.uid, number: corrects.number! } : null,
    correctedBy: correctedBy.map(c => ({ id: c.id, number: c.number!, bookedAt: iso(c.bookedAt!) })),
    hash: s.hash,
  }
}
const stockSide = (app: App, a: number): bigint => (app.places.row(a) || a === app.accounts.stock ? 1n : 0n)

type Moved = ReturnType<App['paper']['movementsOf']['all']>

/** By what later slip each movement was taken back or replaced. */
function fates(
  app: App,
  own: number,
): Map<number, { slip: string; number: string; quantity: bigint; replaced: boolean }> {
  const out = new Map<number, { slip: string; number: string; quantity: bigint; replaced: boolean }>()
  for (const r of app.paper.takenBackBy.all({ slip: own })) {
    if (r.slipId === own) continue
    const replaced = app.paper.putInstead.get({ slip: r.slipId, costSeq: r.costSeq, part: r.part }) !== undefined
    out.set(r.of, { slip: r.uid, number: r.number!, quantity: (out.get(r.of)?.quantity ?? 0n) + r.quantity, replaced })
  }
  return out
}

function lineView(
  app: App,
  content: SlipContent,
  r: typeof slipLine.$inferSelect,
  moved: Moved,
  fate: ReturnType<typeof fates>,
  seeValue: boolean,
): LineView {
  const typed = content.lines.find(l => l.id === r.uid)
  const main = moved.filter(m => m.revalues === null && m.quantity > 0n)
  const itemId = moved[0]?.itemId ?? (typed?.item ? app.known.item(typed.item)?.id : undefined)
  const it = itemId === undefined ? undefined : app.known.itemById(itemId)
  const back = main.map(m => fate.get(m.seq)).filter(f => f !== undefined)
  const quantity = main.filter(m => m.reverses === null).reduce((s, m) => s + m.quantity, 0n)
  const gone = back.reduce((s, f) => s + f.quantity, 0n)
  const tallied = content.kind === 'count' ? app.ids.tallyOfLine.get({ line: r.id }) : undefined
  const state =
    tallied?.reversed || (back.length && gone >= quantity)
      ? back.some(f => f.replaced)
        ? 'replaced'
        : 'taken_back'
      : back.length
        ? 'part_taken_back'
        : 'stands'
  return {
    id: r.uid,
    item: it ? { id: it.uid, code: it.code, name: it.name, unit: it.unit } : null,
    typed: typed?.counted === 'confirmed' ? 'confirmed' : (typed?.typed ?? ''),
    unit: typed?.unit ?? null,
    state,
    act: typed?.act ?? 'none',
    note: typed?.note ?? '',
    movements: moved.map(m => ({
      seq: m.seq,
      kind: m.kind,
      from: accountName(app, m.from),
      to: accountName(app, m.to),
      lot: m.lot,
      expiry: m.expiry,
      quantity: formatDecimal(m.quantity),
      corrects: m.reverses !== null,
      revalues: m.revalues !== null,
      ...(seeValue ? { value: formatDecimal(m.value) } : {}),
    })),
    quantity: formatDecimal(tallied ? tallied.counted : quantity || main.reduce((s, m) => s + m.quantity, 0n)),
    by: back[0] ? { slip: back[0].slip, number: back[0].number } : null,
    ...(seeValue
      ? {
          value: formatDecimal(
            moved.reduce((s, m) => s + m.value * (stockSide(app, m.to) - stockSide(app, m.from)), 0n),
          ),
        }
      : {}),
  }
}

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
export function listSlips(app: App, caller: Caller, query: Asked, asked: Scope = scopeOf(app, caller, query.place)) {
  const q = (query.category || query.item) && !query.flow ? { ...query, flow: 'any' } : query
  const scope = q.flow ? reach(app, caller) : asked
  const limit = q.limit ?? 50
  const at = sql<number>`coalesce(${slip.bookedAt}, ${slip.savedAt})`
  const within = scope.within && [...scope.within]
  const words = (q.q ?? '').trim()
  const like = `%${words.replace(/[\\%_]/g, c => `\\${c}`)}%`
  const cursor = readCursor(q.cursor)
  const accounts = q.party && q.partyId && !q.flow ? accountsOf(app, q.party, q.partyId) : undefined
  const day = q.person ? slip.bookedAt : slip.effectiveAt
  const wanted = and(
    q.flow ? slipsBehind(app, q, asked) : undefined,
    q.from && !q.flow ? sql`${day} >= ${startOfDay(app, q.from)}` : undefined,
    q.to && !q.flow ? sql`${day} < ${endOfDay(app, q.to)}` : undefined,
    q.person ? sql`${slip.bookedBy} = (select id from person where uid = ${q.person})` : undefined,
    q.at === 'none' ? isNull(slip.placeId) : q.at ? eq(slip.placeId, app.places.id(q.at) ?? 0) : undefined,
    accounts
      ? sql`exists (select 1 from movement m where m.slip_id = ${slip.id} and (m.to_id in ${accounts.length ? accounts : [0]} or m.from_id in ${accounts.length ? accounts : [0]}))`
      : undefined,
    // Nearly all slips are booked: by that index SQLite would fetch and sort every one of them. `+` keeps it from doing so.
    q.state === 'unpriced'
      ? inArray(slip.id, seesValue(app, caller, scope) ? unpricedSlips(app).map(r => r.slip) : [])
      : q.state === 'booked'
        ? sql`+${slip.state} = 'booked'`
        : q.state
          ? eq(slip.state, q.state)
          : undefined,
    q.kind ? eq(slip.kind, q.kind) : undefined,
    within
      ? scope !== reach(app, caller)
        ? inArray(slip.placeId, within)
        : or(inArray(slip.placeId, within), eq(slip.createdBy, caller.id))
      : undefined,
    q.mine ? eq(slip.createdBy, caller.id) : undefined,
    words
      ? sql`(${slip.number} like ${like} escape '\\' or ${slip.title} like ${like} escape '\\' or ${slip.taker} like ${like} escape '\\' or exists (select 1 from person p where p.id = coalesce(${slip.bookedBy}, ${slip.createdBy}) and p.name like ${like} escape '\\') or exists (select 1 from slip_line sl join item i on i.uid = json_extract(sl.content, '$.item') where sl.slip_id = ${slip.id} and (i.name like ${like} escape '\\' or i.code like ${like} escape '\\')))`
      : undefined,
  )
  const writer = alias(person, 'writer')
  const rows = app.db
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
    .where(and(wanted, cursor ? sql`(${at}, ${slip.id}) < (${cursor[0]}, ${cursor[1]})` : undefined))
    .orderBy(desc(at), desc(slip.id))
    .limit(limit + 1)
    .all()
  const shown = rows.slice(0, limit)
  const out: SlipRow[] = shown.map(r => ({
    id: r.s.uid,
    kind: r.s.kind as SlipRow['kind'],
    state: r.s.state as SlipRow['state'],
    number: r.s.number,
    title: r.s.title,
    place: r.place === null ? null : app.places.name(r.place),
    at: iso(r.at),
    by: r.by,
    mine: r.s.createdBy === caller.id,
    taker: r.s.taker,
    lines: r.lines,
    corrected: r.corrected === 1,
    ...(seesSlipValue(app, caller, r.s)
      ? { value: formatDecimal(slipValue(app, app.paper.movementsOf.all({ slip: r.s.id })).figure) }
      : {}),
  }))
  const last = shown.at(-1)
  return {
    rows: q.state === 'draft' ? out.sort((a, b) => Number(b.mine) - Number(a.mine)) : out,
    next: rows.length > limit && last ? writeCursor([last.at, last.s.id]) : null,
    total: null,
  }
}

/** What a slip changed in the value of stock, line by line: what came in and what went out. Lists, the slip itself and the working show this one. */
export function slipValue(
  app: App,
  moved: readonly (Pick<Movement, 'from' | 'to' | 'quantity' | 'value' | 'itemId' | 'reverses' | 'revalues'> & {
    readonly kind: string
  })[],
): Working {
  return workOut(
    'value',
    moved.flatMap(m => {
      const amount = m.value * (stockSide(app, m.to) - stockSide(app, m.from))
      const it = app.known.itemById(m.itemId)!
      return amount === 0n
        ? []
        : [
            {
              label: m.revalues !== null ? 'revalued' : m.reverses === null ? m.kind : 'taken_back',
              amount,
              note: `${it.name}${m.quantity ? `, ${formatDecimal(m.quantity)} ${it.unit}` : ''}`,
            },
          ]
    }),
  )
}
