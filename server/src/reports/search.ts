import { and, desc, inArray, or, sql } from 'drizzle-orm'
import type { Found } from '@shelve/contract'
import { lot } from '../catalogue/index.ts'
import { costCentre, job } from '../costcentres/index.ts'
import { findJobs } from '../jobs/index.ts'
import { slip } from '../ledger/index.ts'
import { person } from '../people/index.ts'
import { type Caller, isIn, reach } from '../rights/index.ts'
import { supplier } from '../suppliers/index.ts'
import type { House } from './house.ts'

const MOST = 4

/** What some words mean, as far as the caller may see it; a few of each kind, the likeliest first. */
export function searchFor(house: House, caller: Caller, words: string): Found[] {
  const text = words.trim()
  if (text.length < 2) return []
  const escaped = text.replace(/[\\%_]/g, c => `\\${c}`)
  const [starts, holds] = [`${escaped}%`, `%${escaped}%`]
  const seen = reach(house, caller)
  const named = (kind: Found['kind'], table: typeof supplier | typeof job | typeof costCentre, note: string): Found[] =>
    house.db
      .select({ id: table.uid, name: table.name })
      .from(table)
      .where(sql`${table.name} like ${holds} escape '\\'`)
      .orderBy(sql`${table.name} not like ${starts} escape '\\'`, table.name)
      .limit(MOST)
      .all()
      .map(r => ({ kind, id: r.id, name: r.name, note, item: null }))
  return [
    ...slips(house, caller, seen.within, starts, holds),
    ...lots(house, seen, starts),
    ...findJobs(house, seen, starts, holds, MOST).map((j): Found => ({
      kind: 'plan',
      id: j.id,
      name: j.name,
      note: `job ${j.code}, ${j.state.replace('_', ' ')}`,
      item: null,
    })),
    ...named('supplier', supplier, 'supplier'),
    ...named('job', job, 'job'),
    ...named('cost_centre', costCentre, 'cost centre'),
    ...people(house, holds),
  ]
}

function slips(
  house: House,
  caller: Caller,
  within: ReadonlySet<number> | undefined,
  starts: string,
  holds: string,
): Found[] {
  const mine = within ? or(inArray(slip.placeId, [...within]), sql`${slip.createdBy} = ${caller.id}`) : undefined
  const row = { id: slip.uid, number: slip.number, title: slip.title, place: slip.placeId }
  const byNumber = house.db
    .select(row)
    .from(slip)
    .where(and(sql`${slip.number} like ${starts} escape '\\'`, mine))
    .orderBy(desc(slip.number))
    .limit(MOST)
    .all()
  const byWords = byNumber.length
    ? []
    : house.db
        .select(row)
        .from(slip)
        .where(
          and(
            sql`+${slip.state} = 'booked'`,
            sql`(${slip.title} like ${holds} escape '\\' or ${slip.taker} like ${holds} escape '\\')`,
            mine,
          ),
        )
        .orderBy(sql`coalesce(${slip.bookedAt}, ${slip.savedAt}) desc`, desc(slip.id))
        .limit(MOST)
        .all()
  return [...byNumber, ...byWords].map(r => ({
    kind: 'slip',
    id: r.id,
    name: r.number ?? 'draft',
    note: [r.title, r.place === null ? '' : house.places.name(r.place)].filter(Boolean).join(', '),
    item: null,
  }))
}

/** Lots by the beginning of their code; first those of which something lies where one may look. */
function lots(house: House, seen: ReturnType<typeof reach>, starts: string): Found[] {
  const rows = house.db
    .select({ id: lot.id, uid: lot.uid, code: lot.code, itemId: lot.itemId })
    .from(lot)
    .where(sql`${lot.code} like ${starts} escape '\\'`)
    .orderBy(desc(lot.id))
    .limit(40)
    .all()
  return rows
    .map(r => {
      const it = house.stock.item(r.itemId)!
      return { r, it, lies: it.leaves.some(l => l.lotId === r.id && isIn(seen, l.placeId)) }
    })
    .filter(x => x.lies || !seen.within)
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

const people = (house: House, holds: string): Found[] =>
  house.db
    .select({ id: person.uid, name: person.name })
    .from(person)
    .where(sql`${person.name} like ${holds} escape '\\'`)
    .limit(MOST)
    .all()
    .map(r => ({ kind: 'person', id: r.id, name: r.name, note: 'person', item: null }))
