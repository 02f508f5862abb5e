import { type Item, Name } from '@shelve/contract'
import { groupBy } from '@shelve/core'
import { category, item, type ItemRow, itemViews, putCategory } from '../catalogue/index.ts'
import { folded } from '../ground/index.ts'
import { NO_SHELF } from '../places/index.ts'
import type { House } from './house.ts'
import type { Row } from './items-file.ts'

/** What is wrong with one line. */
export class WrongLine extends Error {
  constructor(
    readonly at: number,
    message: string,
  ) {
    super(message)
  }
}

export interface Standing {
  readonly row: ItemRow
  readonly is: Item
}
/** The items that a file names and that are there, by their codes, however they are written: read once for all of them. */
function itemsOf(house: House, byCode: ReadonlyMap<string, unknown>): ReadonlyMap<string, Standing> {
  const ids = house.db
    .select({ id: item.id, code: item.code })
    .from(item)
    .all()
    .filter(i => byCode.has(folded(i.code)))
  const rows = ids.map(({ id }) => house.rows.itemById.get({ id })!)
  return new Map(itemViews(house, rows).map((is, i) => [folded(is.code), { row: rows[i]!, is }]))
}

/** Categories by their names; one that nobody knows is made. */
function categoriesOf(house: House) {
  const rows = house.db.select({ uid: category.uid, name: category.name }).from(category).all()
  const byName = groupBy(rows, c => folded(c.name))
  const made: string[] = []
  return {
    made,
    nameOf: (uid: string) => [...byName.values()].flat().find(c => c.uid === uid)?.name ?? '',
    /** `now`: the item's own, which is meant where it is called so. */
    of: (at: number, said: string, now: string | null): string => {
      const name = Name.safeParse(said)
      if (!name.success) throw new WrongLine(at, `category: ${name.error.issues[0]!.message}.`)
      const so = byName.get(folded(name.data)) ?? []
      const one = so.find(c => c.uid === now) ?? so[0]
      if (so.length > 1 && one?.uid !== now)
        throw new WrongLine(
          at,
          `there are ${so.length} categories called “${name.data}”. Choose one in the item itself.`,
        )
      if (one) return one.uid
      const nothing = { parent: null, unit: null, decimals: null, identifiedBy: null, method: null }
      const rest = { shelfLifeDays: null, daysOnceOpened: null, tolerance: null }
      const uid = putCategory(house, { name: name.data, ...nothing, ...rest }, undefined, undefined)
      byName.set(folded(name.data), [{ uid, name: name.data }])
      made.push(name.data)
      return uid
    },
  }
}
/** Places by their whole names, or by their own where no other is called so. */
function placesOf(house: House, otherwise: string | null) {
  const rows = [...house.places.rows.values()].filter(p => p.active && !NO_SHELF.includes(p.kind))
  const whole = new Map(rows.map(p => [folded(house.places.name(p.id)), p]))
  const byName = groupBy(rows, p => folded(p.name))
  const of = (at: number, said: string, column: 'place' | 'bin', within?: ReadonlySet<number>) => {
    const so = (byName.get(folded(said)) ?? []).filter(p => !within || within.has(p.id))
    const one = whole.get(folded(said)) ?? so[0]
    if (!one || (within && !within.has(one.id)))
      throw new WrongLine(at, `there is no ${column} “${said}”${within ? ' there' : ''}. Make it first, under Places.`)
    if (so.length > 1 && !whole.has(folded(said)))
      throw new WrongLine(
        at,
        `there are ${so.length} places called “${said}”. Write the whole of one: ${house.places.name(one.id)}.`,
      )
    return one
  }
  return {
    of: (r: Row) => {
      const said = r.of('place')
      if (said) return of(r.at, said, 'place')
      const id = otherwise === null ? undefined : house.places.id(otherwise)
      if (id === undefined) throw new WrongLine(r.at, 'a place is wanted: where is that?')
      return house.places.row(id)!
    },
    bin: (r: Row, area: number) => of(r.at, r.of('bin'), 'bin', house.places.within(area)).uid,
  }
}

/** What a file of items may name, read once for all of it. */
export type Known = ReturnType<typeof knownTo>
export const knownTo = (house: House, byCode: ReadonlyMap<string, unknown>, place: string | null) => ({
  categories: categoriesOf(house),
  places: placesOf(house, place),
  items: itemsOf(house, byCode),
})
