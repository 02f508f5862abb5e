import { and, eq, sql } from 'drizzle-orm'
import type { Api } from '@shelve/contract'
import { nearest, upwards } from '@shelve/core'
import { notFound, Refused, stale } from '../ground/index.ts'
import type { Input } from '../rights/index.ts'
import type { House } from './house.ts'
import { category } from './tables.ts'
import { toleranceColumns } from './tolerance.ts'

type CategoryRow = typeof category.$inferSelect

/** What a category hands down, looked for upwards. `categoryOf`: for whoever has read the categories already. */
export const inherited = <
  K extends 'unit' | 'decimals' | 'identifiedBy' | 'method' | 'shelfLifeDays' | 'daysOnceOpened',
>(
  house: House,
  categoryId: number | null,
  field: K,
  categoryOf: (id: number) => CategoryRow | undefined = id => house.rows.categoryById.get({ id }),
): CategoryRow[K] | null => {
  const at = (id: number | null) => (id === null ? null : categoryOf(id))
  return nearest(
    upwards<CategoryRow>(at(categoryId), c => at(c.parentId)),
    c => c[field],
  )
}

export const categoryId = (house: House, uid: string | null | undefined): number | null => {
  if (!uid) return null
  const row = house.db.select({ id: category.id }).from(category).where(eq(category.uid, uid)).get()
  if (!row)
    throw new Refused(422, 'unknown_category', 'There is no such category.', [
      { field: 'category', code: 'unknown_category', message: 'There is no such category.' },
    ])
  return row.id
}

type CategoryIn = Input<Api['createCategory']>['body']
/** A new category, or one changed. */
export function putCategory(
  house: House,
  body: CategoryIn,
  uid: string | undefined,
  revision: number | undefined,
): string {
  const row = uid === undefined ? undefined : house.db.select().from(category).where(eq(category.uid, uid)).get()
  if (uid !== undefined && !row) throw notFound('category')
  if (row && revision !== undefined && revision !== row.revision) throw stale()
  const parent =
    body.parent === null ? undefined : house.db.select().from(category).where(eq(category.uid, body.parent)).get()
  if (body.parent !== null && !parent) throw notFound('category')
  for (
    let at = parent;
    at;
    at = at.parentId === null ? undefined : house.db.select().from(category).where(eq(category.id, at.parentId)).get()
  ) {
    if (at.id === row?.id)
      throw new Refused(422, 'category_in_itself', 'A category cannot lie within itself.', [
        { field: 'parent', code: 'category_in_itself', message: 'A category cannot lie within itself.' },
      ])
  }
  const other = house.db
    .select()
    .from(category)
    .where(and(sql`fold(${category.name}) = fold(${body.name})`, sql`${category.parentId} is ${parent?.id ?? null}`))
    .get()
  if (other && other.id !== row?.id)
    throw new Refused(409, 'name_taken', `There is a category ${body.name} here already.`, [
      { field: 'name', code: 'name_taken', message: `There is a category ${body.name} here already.` },
    ])
  const set = {
    name: body.name,
    parentId: parent?.id ?? null,
    unit: body.unit,
    decimals: body.decimals,
    identifiedBy: body.identifiedBy,
    method: body.method,
    shelfLifeDays: body.shelfLifeDays,
    daysOnceOpened: body.daysOnceOpened,
    ...toleranceColumns(body.tolerance),
  }
  if (row) {
    house.db
      .update(category)
      .set({ ...set, revision: row.revision + 1 })
      .where(eq(category.id, row.id))
      .run()
    return row.uid
  }
  const made = house.uid()
  house.db
    .insert(category)
    .values({ uid: made, ...set, active: true, revision: 1 })
    .run()
  return made
}
