import type { FirstStock, Item } from '@shelve/contract'
import { decimalTyped, numberTyped } from '../ui/typed.ts'
import { toleranceForm, toleranceInput } from './tolerance-form.ts'

/** A pack of an item as it is being written: its codes stand in one field. */
export interface PackForm {
  name: string
  size: string
  codes: string
  buying: boolean
  issuing: boolean
  counting: boolean
}
export const freshPack = (): PackForm => ({
  name: '',
  size: '',
  codes: '',
  buying: true,
  issuing: true,
  counting: true,
})
export const isEmptyPack = (p: PackForm): boolean => !p.name.trim() && !p.size.trim() && !p.codes.trim()

/** An item as it is being written, all of it as text. */
export const freshItem = () => ({
  code: '',
  name: '',
  category: '',
  unit: '',
  decimals: '' as string,
  identifiedBy: '',
  method: '',
  standardCost: '',
  shelfLifeDays: '',
  daysOnceOpened: '',
  wasteCode: '',
  witnessed: false,
  note: '',
  codes: '',
  mass: '',
  density: '',
  kept: 'stock',
  active: true,
  tolerance: toleranceForm(null),
  packs: [] as PackForm[],
})
export type ItemForm = ReturnType<typeof freshItem>

/** What is there, or a copy of it: a copy has no codes yet, and another name. */
export const formOf = (i: Item, copy: boolean): ItemForm => ({
  code: copy ? '' : i.code,
  name: copy ? `${i.name} (copy)` : i.name,
  category: i.category?.id ?? '',
  unit: i.unit,
  decimals: String(i.decimals),
  identifiedBy: i.identifiedBy,
  method: i.ownMethod ?? '',
  standardCost: i.standardCost ?? '',
  shelfLifeDays: i.ownShelfLifeDays === null ? '' : String(i.ownShelfLifeDays),
  wasteCode: i.wasteCode,
  witnessed: i.witnessed,
  daysOnceOpened: i.ownDaysOnceOpened === null ? '' : String(i.ownDaysOnceOpened),
  note: i.note,
  codes: copy ? '' : i.codes.join(' '),
  mass: i.mass ?? '',
  density: i.density ?? '',
  kept: i.kept,
  active: copy || i.active,
  tolerance: toleranceForm(i.ownTolerance),
  packs: i.packs.map(p => ({
    name: p.name,
    size: p.size,
    codes: copy ? '' : p.codes.join(' '),
    buying: p.buying,
    issuing: p.issuing,
    counting: p.counting,
  })),
})

/** Codes as they stand in one field. */
export const words = (t: string): string[] => t.split(/[\s,;]+/).filter(Boolean)

/** What of a form is sent. `standard`: it is costed by a standard, and what one costs is said. */
export const itemInput = (form: ItemForm, standard: boolean) => ({
  code: form.code,
  name: form.name,
  category: form.category || null,
  unit: form.unit || undefined,
  decimals: form.decimals === '' ? undefined : Number(form.decimals),
  identifiedBy: form.identifiedBy || undefined,
  method: form.method || null,
  standardCost: standard ? decimalTyped(form.standardCost) : '',
  kept: form.kept,
  shelfLifeDays: numberTyped(form.shelfLifeDays),
  wasteCode: form.wasteCode,
  witnessed: form.witnessed,
  daysOnceOpened: numberTyped(form.daysOnceOpened),
  note: form.note,
  tolerance: toleranceInput(form.tolerance),
  codes: words(form.codes),
  mass: decimalTyped(form.mass) || null,
  density: decimalTyped(form.density) || null,
  packs: form.packs
    .filter(p => !isEmptyPack(p))
    .map(p => ({ ...p, size: decimalTyped(p.size), codes: words(p.codes) })),
})

/** Where a new item stands, as it is being written: its levels in a place, and what of it lies there. */
export interface StockRow {
  place: string
  minimum: string
  target: string
  typed: string
  lot: string
  expiry: string | null
  price: string
}
export const stockRow = (place: string | null, more: Partial<StockRow> = {}): StockRow => ({
  place: place ?? '',
  minimum: '',
  target: '',
  typed: '',
  lot: '',
  expiry: null,
  price: '',
  ...more,
})
/** Rows that say something, as they are sent, each with its place among all. */
export const stockInput = (rows: readonly StockRow[]): { sent: FirstStock[]; rows: number[] } => {
  const said = rows.flatMap((r, i) =>
    [r.minimum, r.target, r.typed, r.lot, r.price].some(t => t.trim()) || r.expiry ? [i] : [],
  )
  return {
    rows: said,
    sent: said.map(i => {
      const r = rows[i]!
      return {
        place: r.place,
        minimum: decimalTyped(r.minimum) || null,
        target: decimalTyped(r.target) || null,
        typed: r.typed,
        lot: r.lot.trim() || r.expiry ? { code: r.lot, expiry: r.expiry } : null,
        price: decimalTyped(r.price),
      }
    }),
  }
}
