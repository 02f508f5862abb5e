import { eq, sql } from 'drizzle-orm'
import type { CountGroup, CountGroupInput } from '@shelve/contract'
import { category, categoryWithin, item } from '../catalogue/index.ts'
import { folded, notFound, once, Refused, stale } from '../ground/index.ts'
import { isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { countGroup, countGroupItem } from './tables.ts'

export type GroupRow = typeof countGroup.$inferSelect

export const groupOf = (house: Pick<House, 'db'>, uid: string): GroupRow | undefined =>
  house.db.select().from(countGroup).where(eq(countGroup.uid, uid)).get()
export const groupById = (house: House, id: number): GroupRow =>
  house.db.select().from(countGroup).where(eq(countGroup.id, id)).get()!

const statements = once((house: House) => ({
  inUse: house.db.select().from(countGroup).where(eq(countGroup.active, true)).orderBy(countGroup.name).prepare(),
  category: house.db
    .select({ uid: category.uid })
    .from(category)
    .where(eq(category.id, sql.placeholder('id')))
    .prepare(),
  ofCategories: house.db
    .select({ id: item.id })
    .from(item)
    .where(sql`${item.categoryId} in (select value from json_each(${sql.placeholder('within')}))`)
    .prepare(),
}))
/** Groups of a place or what lies in it, those in use. */
export const groupsIn = (house: House, scope: Scope): GroupRow[] =>
  statements(house)
    .inUse.all()
    .filter(g => isIn(scope, g.placeId))

/** The items of a group: those picked by hand, or all of its category and what is below it, as they are today. */
export function itemsOf(house: House, group: GroupRow): ReadonlySet<number> {
  if (group.categoryId === null)
    return new Set(
      house.db
        .select({ id: countGroupItem.itemId })
        .from(countGroupItem)
        .where(eq(countGroupItem.groupId, group.id))
        .all()
        .map(r => r.id),
    )
  const top = statements(house).category.get({ id: group.categoryId })!
  const within = new Set(categoryWithin(house, top.uid))
  return new Set(
    statements(house)
      .ofCategories.all({ within: JSON.stringify([...within]) })
      .map(i => i.id),
  )
}

/** All groups of the places that may be seen, with what is in them; those out of use last. */
export function groupViews(house: House, seen: Scope): CountGroup[] {
  const rows = house.db.select().from(countGroup).orderBy(countGroup.name).all()
  return rows
    .filter(g => isIn(seen, g.placeId))
    .sort((a, b) => Number(b.active) - Number(a.active))
    .map(g => ({
      id: g.uid,
      revision: g.revision,
      name: g.name,
      place: house.places.row(g.placeId)!.uid,
      placeName: house.places.name(g.placeId),
      category:
        g.categoryId === null
          ? null
          : house.db
              .select({ id: category.uid, name: category.name })
              .from(category)
              .where(eq(category.id, g.categoryId))
              .get()!,
      items:
        g.categoryId !== null
          ? []
          : house.db
              .select({ id: item.uid, code: item.code, name: item.name })
              .from(countGroupItem)
              .innerJoin(item, eq(item.id, countGroupItem.itemId))
              .where(eq(countGroupItem.groupId, g.id))
              .orderBy(item.name)
              .all(),
      everyDays: g.everyDays,
      active: g.active,
    }))
}

/** What a group says of itself, as it is kept; what it names must be there, and its name free in its place. */
function columns(house: House, input: CountGroupInput, self: number | undefined) {
  const placeId = house.places.id(input.place)
  if (placeId === undefined) throw notFound('place')
  const of = input.category
  const categoryId =
    of === null ? null : house.db.select({ id: category.id }).from(category).where(eq(category.uid, of)).get()?.id
  if (categoryId === undefined) throw notFound('category')
  const items = [...new Set(input.items)].map(uid => {
    const row = house.known.item(uid)
    if (!row) throw notFound('item')
    return row.id
  })
  const there = house.db
    .select({ id: countGroup.id, name: countGroup.name })
    .from(countGroup)
    .where(eq(countGroup.placeId, placeId))
    .all()
  if (there.some(g => g.id !== self && folded(g.name) === folded(input.name)))
    throw new Refused(409, 'name_taken', `There is a group ${input.name} in ${house.places.name(placeId)} already.`, [
      {
        field: 'name',
        code: 'name_taken',
        message: 'There is a group of that name here already. Choose another name.',
      },
    ])
  const { name, everyDays, active } = input
  return { row: { name, placeId, categoryId, everyDays, active }, items }
}

const putItems = (house: House, groupId: number, items: readonly number[]): void => {
  house.db.delete(countGroupItem).where(eq(countGroupItem.groupId, groupId)).run()
  for (const itemId of items) house.db.insert(countGroupItem).values({ groupId, itemId }).run()
}

/** Gives the id of the new group. */
export function createGroup(house: House, input: CountGroupInput): string {
  const { row, items } = columns(house, input, undefined)
  const { id, uid } = house.db
    .insert(countGroup)
    .values({ uid: house.uid(), revision: 1, createdAt: house.now(), ...row })
    .returning({ id: countGroup.id, uid: countGroup.uid })
    .get()
  putItems(house, id, items)
  return uid
}

export function updateGroup(house: House, uid: string, input: CountGroupInput, revision: number | undefined): void {
  const there = groupOf(house, uid)
  if (!there) throw notFound('group')
  if (revision !== undefined && revision !== there.revision) throw stale()
  const { row, items } = columns(house, input, there.id)
  house.db
    .update(countGroup)
    .set({ ...row, revision: there.revision + 1 })
    .where(eq(countGroup.id, there.id))
    .run()
  putItems(house, there.id, items)
}
