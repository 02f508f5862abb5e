import { and, eq, isNull, sql } from 'drizzle-orm'
import type { Db } from '../ground/index.ts'
import { category, item, lot, pack } from './tables.ts'

/** What an item and a pack are made with. */
const ITEM: readonly (keyof typeof item.$inferInsert)[] = [
  ...(['uid', 'code', 'name', 'categoryId', 'unit', 'decimals', 'identifiedBy', 'kept', 'method'] as const),
  ...(['shelfLifeDays', 'daysOnceOpened', 'densityN', 'densityD', 'mass', 'wasteCode', 'witnessed'] as const),
  ...(['note', 'active', 'revision', 'foundBy', 'createdAt'] as const),
  ...(['toleranceQuantity', 'tolerancePercent', 'toleranceValue'] as const),
]
const PACK: readonly (keyof typeof pack.$inferInsert)[] = [
  ...(['uid', 'itemId', 'name', 'sizeN', 'sizeD', 'buying', 'issuing', 'counting', 'retiredAt'] as const),
]

/** The rows of this room that others ask for by the thousand, by statements prepared once. */
export function prepareRows(db: Db) {
  const p = sql.placeholder
  const each = <T>(columns: readonly (keyof T & string)[]) => Object.fromEntries(columns.map(c => [c, p(c)])) as never
  return {
    item: db
      .select()
      .from(item)
      .where(eq(item.uid, p('uid')))
      .prepare(),
    itemById: db
      .select()
      .from(item)
      .where(eq(item.id, p('id')))
      .prepare(),
    insertItem: db.insert(item).values(each(ITEM)).returning({ id: item.id }).prepare(),
    insertPack: db.insert(pack).values(each(PACK)).returning({ id: pack.id }).prepare(),
    categoryById: db
      .select()
      .from(category)
      .where(eq(category.id, p('id')))
      .prepare(),
    packs: db
      .select()
      .from(pack)
      .where(and(eq(pack.itemId, p('item')), isNull(pack.retiredAt)))
      .prepare(),
    allPacks: db
      .select()
      .from(pack)
      .where(eq(pack.itemId, p('item')))
      .orderBy(sql`coalesce(${pack.retiredAt}, 9007199254740991)`)
      .prepare(),
    packId: db
      .select({ id: pack.id })
      .from(pack)
      .where(eq(pack.uid, p('uid')))
      .prepare(),
    categoryId: db
      .select({ id: category.id })
      .from(category)
      .where(eq(category.uid, p('uid')))
      .prepare(),
    lot: db
      .select()
      .from(lot)
      .where(eq(lot.uid, p('uid')))
      .prepare(),
    /** Of which item a lot is: enough to look for it. */
    lotNamed: db
      .select({ id: lot.id, itemId: lot.itemId })
      .from(lot)
      .where(eq(lot.uid, p('uid')))
      .prepare(),
    lotById: db
      .select()
      .from(lot)
      .where(eq(lot.id, p('id')))
      .prepare(),
    lotByCode: db
      .select()
      .from(lot)
      .where(and(eq(lot.itemId, p('item')), eq(lot.code, p('code')), isNull(lot.parentId)))
      .prepare(),
    containerByCode: db
      .select({ id: lot.id })
      .from(lot)
      .where(and(eq(lot.itemId, p('item')), eq(lot.parentId, p('parent')), eq(lot.code, p('code'))))
      .prepare(),
    plainLot: db
      .select({ id: lot.id })
      .from(lot)
      .where(and(eq(lot.itemId, p('item')), isNull(lot.code)))
      .prepare(),
    itemLots: db
      .select()
      .from(lot)
      .where(eq(lot.itemId, p('item')))
      .prepare(),
    insertLot: db
      .insert(lot)
      .values({
        uid: p('uid'),
        itemId: p('item'),
        code: p('code'),
        expiry: p('expiry'),
        receivedAt: p('now'),
        held: 'usable',
      })
      .returning({ id: lot.id })
      .prepare(),
  }
}
export type Rows = ReturnType<typeof prepareRows>
