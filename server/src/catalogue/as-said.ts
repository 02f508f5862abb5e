import type { Item, ItemInput, Pack } from '@shelve/contract'

/** What would have to be said of an item for it to stay as it is. */
export const inputOf = (of: Item): ItemInput => ({
  code: of.code,
  name: of.name,
  category: of.category?.id ?? null,
  unit: of.unit,
  decimals: of.decimals,
  identifiedBy: of.identifiedBy,
  kept: of.kept,
  method: of.ownMethod,
  standardCost: '',
  shelfLifeDays: of.ownShelfLifeDays,
  daysOnceOpened: of.ownDaysOnceOpened,
  tolerance: of.ownTolerance,
  density: of.density,
  mass: of.mass,
  wasteCode: of.wasteCode,
  witnessed: of.witnessed,
  note: of.note,
  codes: of.codes,
  packs: of.packs,
})

/** Packs in one cell of a file, each with its barcodes behind its size: `case=12 09521234000014; can=5`. */
export const packsWritten = (packs: readonly Pick<Pack, 'name' | 'size' | 'codes'>[]): string =>
  packs.map(p => [`${p.name}=${p.size}`, ...p.codes].join(' ')).join('; ')
