import { type Measure, ratio } from '@shelve/core'
import type { item, pack } from './tables.ts'

export type ItemRow = typeof item.$inferSelect

/** How quantities of an item are read and measured. */
export function measureOf(row: ItemRow, packs: readonly (typeof pack.$inferSelect)[]): Measure {
  return {
    base: row.unit,
    decimals: row.decimals,
    packs: packs.map(p => ({ name: p.name, size: ratio(p.sizeN, p.sizeD) })),
    ...(row.densityN !== null && row.densityD !== null ? { density: ratio(row.densityN, row.densityD) } : {}),
  }
}
/** An item in a few words. */
export const named = (it: ItemRow) => ({ id: it.uid, code: it.code, name: it.name, unit: it.unit })
