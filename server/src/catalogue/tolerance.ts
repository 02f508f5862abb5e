import type { Tolerance as Said } from '@shelve/contract'
import { decimal, formatDecimal, nearestTolerance, saysTolerance, type Tolerance, upwards } from '@shelve/core'
import type { House } from './house.ts'

/** The columns of an item, or of a category, that say how far off a count may be. */
export interface ToleranceRow {
  readonly toleranceQuantity: bigint | null
  readonly tolerancePercent: bigint | null
  readonly toleranceValue: bigint | null
}
const read = (text: string | null | undefined): bigint | null => (text ? decimal(text) : null)
const written = (amount: bigint | null): string | null => (amount === null ? null : formatDecimal(amount))

export const toleranceColumns = (said: Partial<Said> | null | undefined): ToleranceRow => ({
  toleranceQuantity: read(said?.quantity),
  tolerancePercent: read(said?.percent),
  toleranceValue: read(said?.value),
})
const limits = (row: ToleranceRow): Tolerance => ({
  quantity: row.toleranceQuantity,
  percent: row.tolerancePercent,
  value: row.toleranceValue,
})
export const toleranceView = (t: Tolerance): Said => ({
  quantity: written(t.quantity),
  percent: written(t.percent),
  value: written(t.value),
})
/** What a row says itself; null where it hands on what is above it. */
export const ownTolerance = (row: ToleranceRow): Said | null => {
  const own = limits(row)
  return saysTolerance(own) ? toleranceView(own) : null
}

type OfCategory = ToleranceRow & { readonly parentId: number | null }
/**
 * How far off a count of an item may be: as it says itself, or its category, or one above that, or the organisation.
 * `categoryOf`: for whoever has read the categories already.
 */
export function toleranceOf(
  house: House,
  item: ToleranceRow & { readonly categoryId: number | null },
  categoryOf: (id: number) => OfCategory | undefined = id => house.rows.categoryById.get({ id }),
): Tolerance {
  const at = (id: number | null) => (id === null ? null : categoryOf(id))
  // One after the other: what stands above is read only where nothing below says it.
  function* said() {
    yield limits(item)
    for (const c of upwards<OfCategory>(at(item.categoryId), one => at(one.parentId))) yield limits(c)
    const all = house.organisation
    if (all) yield { quantity: null, percent: all.tolerancePercent, value: all.toleranceValue }
  }
  return nearestTolerance(said())
}
