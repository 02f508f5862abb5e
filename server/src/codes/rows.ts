import { eq, sql } from 'drizzle-orm'
import type { Db } from '../ground/index.ts'
import { code } from './tables.ts'

/** The rows of this room that others ask for by the hundred, by statements prepared once. */
export function prepareRows(db: Db) {
  const p = sql.placeholder
  return {
    codeByNormal: db
      .select()
      .from(code)
      .where(eq(code.normal, p('normal')))
      .prepare(),
    insertCode: db
      .insert(code)
      .values({
        normal: p('normal'),
        scanned: p('scanned'),
        kind: p('kind'),
        itemId: p('item'),
        packId: p('pack'),
        lotId: p('lot'),
        placeId: p('place'),
      })
      .prepare(),
    dropItemCodes: db
      .delete(code)
      .where(eq(code.itemId, p('item')))
      .prepare(),
  }
}
export type Rows = ReturnType<typeof prepareRows>
