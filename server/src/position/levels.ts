import { and, eq } from 'drizzle-orm'
import { decimal, formatDecimal } from '@shelve/core'
import { wantItem } from '../catalogue/index.ts'
import { among, demandSeen, notFound, Refused } from '../ground/index.ts'
import type { House } from './house.ts'
import { level } from './tables.ts'

export interface Levels {
  readonly minimum: string | null
  readonly target: string | null
  readonly bin: string | null
}
/** Minimum and target of an item in a place; both null takes it off the place, unless something lies there. */
export function setLevel(
  house: House,
  input: { readonly item: string; readonly place: string; readonly seen?: Levels | undefined } & Levels,
): void {
  const item = wantItem(house, input.item)
  const placeId = house.places.id(input.place)
  if (placeId === undefined) throw notFound('place')
  demandSeen(input.seen, levelsIn(house, item.id, placeId))
  const binId = input.bin === null ? null : house.places.id(input.bin)
  if (binId === undefined || (binId !== null && !house.places.within(placeId).has(binId)))
    throw new Refused(422, 'bin_elsewhere', 'The usual bin lies in another place.', [
      { field: 'bin', code: 'bin_elsewhere', message: 'The usual bin lies in another place.' },
    ])
  const set = {
    minimum: input.minimum === null ? null : decimal(input.minimum),
    target: input.target === null ? null : decimal(input.target),
    binId,
  }
  if (set.minimum === null && set.target === null && binId === null)
    house.db
      .delete(level)
      .where(and(eq(level.itemId, item.id), eq(level.placeId, placeId)))
      .run()
  else
    house.db
      .insert(level)
      .values({ itemId: item.id, placeId, ...set })
      .onConflictDoUpdate({ target: [level.itemId, level.placeId], set })
      .run()
}

/** What is set of an item in a place, as it is said. */
export function levelsIn(house: House, itemId: number, placeId: number): Levels {
  const row = house.db
    .select()
    .from(level)
    .where(and(eq(level.itemId, itemId), eq(level.placeId, placeId)))
    .get()
  const text = (of: bigint | null | undefined) => (of === null || of === undefined ? null : formatDecimal(of))
  return {
    minimum: text(row?.minimum),
    target: text(row?.target),
    bin: row?.binId ? house.places.row(row.binId)!.uid : null,
  }
}

/** The items that have a level in some places. */
export const levelledIn = (house: House, placeIds: ReadonlySet<number>): number[] =>
  house.db
    .selectDistinct({ id: level.itemId })
    .from(level)
    .where(among(level.placeId, placeIds))
    .all()
    .map(l => l.id)

/** The bin that a delivery of an item usually goes to in an area: as set, else the shelf on which most of it lies, else the area itself. */
export function usualBin(house: House, itemId: number, areaId: number): number {
  const set = house.rows.bin.get({ item: itemId, area: areaId })
  return set?.binId ?? house.rows.mostLies.get({ item: itemId, area: areaId })?.placeId ?? areaId
}
