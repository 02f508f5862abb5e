import { and, desc, or, type SQL, sql } from 'drizzle-orm'
import type { Found } from '@shelve/contract'
import { lot } from '../catalogue/index.ts'
import { costCentre, job } from '../costcentres/index.ts'
import { among, holds, startsWith } from '../ground/index.ts'
import { findJobs } from '../jobs/index.ts'
import { slip } from '../ledger/index.ts'
import { person } from '../people/index.ts'
import { type Caller, isIn, reach } from '../rights/index.ts'
import { supplier } from '../suppliers/index.ts'
import type { House } from './house.ts'
import { asItStands, isIndexed } from './three-letters.ts'

const MOST = 4

/** What some words mean, as far as the caller may see it; a few of each kind, the likeliest first. */
export function searchFor(house: House, caller: Caller, words: string): Found[] {
  const text = words.trim()
  if (text.length < 2) return []
  const seen = reach(house, caller)
  const named = (kind: Found['kind'], table: typeof supplier | typeof job | typeof costCentre, note: string): Found[] =>
    house.db
      .select({ id: table.uid, name: table.name })
      .from(table)
      .where(holds(table.name, text))
      .orderBy(sql`not ${startsWith(table.name, text)}`, table.name)
      .limit(MOST)
      .all()
      .map(r => ({ kind, id: r.id, name: r.name, note, item: null }))
  return [
    ...slips(house, caller, seen.within, text),
    ...lots(house, seen, text),
    ...findJobs(house, seen, text, MOST).map((j): Found => ({
      kind: 'plan',
      id: j.id,
      name: j.name,
      note: `job ${j.code}, ${j.state.replace('_', ' ')}`,
      item: null,
    })),
    ...named('supplier', supplier, 'supplier'),
    ...named('job', job, 'job'),
    ...named('cost_centre', costCentre, 'cost centre'),
    ...people(house, text),
  ]
}

const ROW = { id: slip.uid, number: slip.number, title: slip.title, place: slip.placeId }
function slips(house: House, caller: Caller, within: ReadonlySet<number> | undefined, text: string): Found[] {
  const mine = within ? or(among(slip.placeId, within), sql`${slip.createdBy} = ${caller.id}`) : undefined
  const byNumber = house.db
    .select(ROW)
    .from(slip)
    .where(and(begins(sql`${slip.number}`, text), mine))
    .orderBy(desc(slip.number))
    .limit(MOST)
    .all()
  const byWords = byNumber.length || !isIndexed(text) ? [] : bySaid(house, text, mine)
  return [...byNumber, ...byWords].map(r => ({
    kind: 'slip',
    id: r.id,
    name: r.number ?? 'draft',
    note: [r.title, r.place === null ? '' : house.places.name(r.place)].filter(Boolean).join(', '),
    item: null,
  }))
}

/** Of the booked slips that say a word, so many are looked at, the latest written first. */
const LATEST = 200
const bySaid = (house: House, text: string, mine: SQL | undefined) =>
  house.db
    .select(ROW)
    .from(slip)
    .where(
      and(
        sql`${slip.id} in (select rowid from slip_search where slip_search match ${asItStands(text)} order by rowid desc limit ${LATEST})`,
        mine,
      ),
    )
    // By its own key: the index of times would be gone through from its end until there are enough.
    .orderBy(sql`+coalesce(${slip.bookedAt}, ${slip.savedAt}) desc`, desc(slip.id))
    .limit(MOST)
    .all()

/** What begins with a text, whatever its case: as a range, which an index finds. */
const begins = (of: SQL, text: string): SQL =>
  sql`(${of} >= upper(${text}) and ${of} < upper(${text}) || char(0x10FFFF))`

/** So many lots are looked at in turn, of so many in all. */
const [LOTS, LOOKED_AT] = [40, 400]
/** Lots by the beginning of their code; first those of which something lies where one may look. */
function lots(house: House, seen: ReturnType<typeof reach>, text: string): Found[] {
  const found = []
  // Of other places there may be many before the first of one's own.
  for (let from = 0; from < LOOKED_AT && found.length < MOST; from += LOTS) {
    const rows = house.db
      .select({ id: lot.id, uid: lot.uid, code: lot.code, itemId: lot.itemId })
      .from(lot)
      .where(begins(sql`upper(${lot.code})`, text))
      .orderBy(desc(lot.id))
      .limit(LOTS)
      .offset(from)
      .all()
    house.stock.want(rows.map(r => r.itemId))
    for (const r of rows) {
      const it = house.stock.item(r.itemId)!
      const lies = it.leaves.some(l => l.lotId === r.id && isIn(seen, l.placeId))
      if (lies || !seen.within) found.push({ r, it, lies })
    }
    if (rows.length < LOTS) break
  }
  return found
    .sort((a, b) => Number(b.lies) - Number(a.lies))
    .slice(0, MOST)
    .map(({ r, it, lies }) => ({
      kind: 'lot',
      id: r.uid,
      name: r.code!,
      note: `lot of ${it.name}${lies ? '' : ', none left'}`,
      item: it.uid,
    }))
}

const people = (house: House, text: string): Found[] =>
  house.db
    .select({ id: person.uid, name: person.name })
    .from(person)
    .where(holds(person.name, text))
    .limit(MOST)
    .all()
    .map(r => ({ kind: 'person', id: r.id, name: r.name, note: 'person', item: null }))
