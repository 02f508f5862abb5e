import { eq, sql } from 'drizzle-orm'
import type { Db } from '../ground/index.ts'
import { supplier } from './tables.ts'

/** The rows of this room that others ask for by the thousand, by statements prepared once. */
export function prepareRows(db: Db) {
  const p = sql.placeholder
  return {
    supplierByName: db
      .select()
      .from(supplier)
      .where(sql`fold(${supplier.name}) = fold(${p('name')})`)
      .prepare(),
    insertSupplier: db
      .insert(supplier)
      .values({ id: p('id'), uid: p('uid'), name: p('name'), active: true })
      .prepare(),
    supplierUid: db
      .select({ uid: supplier.uid })
      .from(supplier)
      .where(eq(supplier.id, p('id')))
      .prepare(),
    supplierId: db
      .select({ id: supplier.id })
      .from(supplier)
      .where(eq(supplier.uid, p('uid')))
      .prepare(),
  }
}
export type Rows = ReturnType<typeof prepareRows>
