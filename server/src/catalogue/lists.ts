import { and, asc, eq, inArray, isNotNull, isNull, or, sql } from 'drizzle-orm'
import type { Category, IndexItem } from '@shelve/contract'
import { groupBy, normaliseCode } from '@shelve/core'
import { code } from '../codes/index.ts'
import { among, chunks, eachInPieces, holds, readCursor, writeCursor } from '../ground/index.ts'
import type { House } from './house.ts'
import { itemViews, sizeText } from './items.ts'
import { category, item, pack } from './tables.ts'
import { ownTolerance } from './tolerance.ts'

/** A page of items by code or name; the cursor is the last row's sort key and number. */
export function listItems(
  house: House,
  q: { q?: string; category?: string; active?: string; sort?: string; cursor?: string; limit?: number },
) {
  const limit = q.limit ?? 50
  const descending = q.sort?.startsWith('-') ?? false
  const column = q.sort?.endsWith('name') ? item.name : item.code
  const words = (q.q ?? '').trim().split(/\s+/).filter(Boolean)
  const wanted = and(
    q.active === 'all' ? undefined : eq(item.active, q.active !== 'no'),
    q.active === 'found' ? isNotNull(item.foundBy) : undefined,
    q.category ? inArray(item.categoryId, categoryWithin(house, q.category)) : undefined,
    ...words.map(w =>
      or(
        holds(item.name, w),
        holds(item.code, w),
        sql`exists (select 1 from ${code} where ${code.itemId} = ${item.id} and ${holds(code.normal, normaliseCode(w))})`,
      ),
    ),
  )
  const at = readCursor(q.cursor, ['text', 'number'])
  const total = house.db
    .select({ n: sql<number>`count(*)`.mapWith(Number) })
    .from(item)
    .where(wanted)
    .get()!.n
  const rows = house.db
    .select()
    .from(item)
    .where(
      and(
        wanted,
        at ? sql`(${column}, ${item.id}) ${sql.raw(descending ? '<' : '>')} (${at[0]}, ${at[1]})` : undefined,
      ),
    )
    .orderBy(descending ? sql`${column} desc, ${item.id} desc` : sql`${column}, ${item.id}`)
    .limit(limit + 1)
    .all()
  const shown = rows.slice(0, limit)
  const last = shown.at(-1)
  return {
    rows: itemViews(house, shown),
    next: rows.length > limit && last ? writeCursor([column === item.name ? last.name : last.code, last.id]) : null,
    total,
  }
}

export function categoryWithin(house: House, uid: string): number[] {
  const all = house.db.select().from(category).all()
  const top = all.find(c => c.uid === uid)
  if (!top) return []
  const ids = [top.id]
  for (let i = 0; i < ids.length; i++)
    for (const c of all) if (c.parentId === ids[i] && !ids.includes(c.id)) ids.push(c.id)
  return ids
}

export function categories(house: House): Category[] {
  const all = house.db.select().from(category).where(eq(category.active, true)).orderBy(asc(category.name)).all()
  const counts = new Map(
    house.db
      .select({ id: item.categoryId, n: sql<number>`count(*)`.mapWith(Number) })
      .from(item)
      .where(eq(item.active, true))
      .groupBy(item.categoryId)
      .all()
      .map(r => [r.id, r.n]),
  )
  return all.map(c => ({
    id: c.uid,
    revision: c.revision,
    name: c.name,
    parent: all.find(p => p.id === c.parentId)?.uid ?? null,
    unit: c.unit,
    decimals: c.decimals,
    identifiedBy: c.identifiedBy as Category['identifiedBy'],
    method: c.method as Category['method'],
    shelfLifeDays: c.shelfLifeDays,
    daysOnceOpened: c.daysOnceOpened,
    tolerance: ownTolerance(c),
    items: counts.get(c.id) ?? 0,
  }))
}

/** So many items of the index are read at once. */
const PIECE = 300
/** All items for a device: what a scan and a typed quantity need, nothing else; others are let in meanwhile. */
export async function itemIndex(house: House): Promise<IndexItem[]> {
  const ids = house.db.select({ id: item.id }).from(item).where(eq(item.active, true)).orderBy(asc(item.name)).all()
  const out: IndexItem[] = []
  await eachInPieces(chunks(ids, PIECE), some =>
    out.push(
      ...indexed(
        house,
        some.map(r => r.id),
      ),
    ),
  )
  return out
}
function indexed(house: House, ids: readonly number[]): IndexItem[] {
  const packs = house.db
    .select()
    .from(pack)
    .where(and(isNull(pack.retiredAt), among(pack.itemId, ids)))
    .all()
  const packName = new Map(packs.map(p => [p.id, p.name]))
  const packsOf = groupBy(packs, p => p.itemId)
  const codesOf = groupBy(house.db.select().from(code).where(among(code.itemId, ids)).all(), c => c.itemId)
  return house.db
    .select({
      id: item.id,
      uid: item.uid,
      code: item.code,
      name: item.name,
      unit: item.unit,
      decimals: item.decimals,
      identifiedBy: item.identifiedBy,
      kept: item.kept,
      densityN: item.densityN,
      densityD: item.densityD,
      category: category.name,
    })
    .from(item)
    .leftJoin(category, eq(category.id, item.categoryId))
    .where(among(item.id, ids))
    .orderBy(asc(item.name))
    .all()
    .map(r => ({
      id: r.uid,
      code: r.code,
      name: r.name,
      unit: r.unit,
      decimals: r.decimals,
      identifiedBy: r.identifiedBy as IndexItem['identifiedBy'],
      kept: r.kept,
      category: r.category,
      density: r.densityN === null ? null : sizeText(r.densityN, r.densityD!),
      packs: (packsOf.get(r.id) ?? []).map(x => ({
        name: x.name,
        size: sizeText(x.sizeN, x.sizeD),
        buying: x.buying,
        issuing: x.issuing,
        counting: x.counting,
      })),
      codes: (codesOf.get(r.id) ?? []).map(x => ({
        code: x.scanned,
        pack: x.packId === null ? null : (packName.get(x.packId) ?? null),
      })),
    }))
}
