import { z } from 'zod'
import { ItemInput } from '../catalogue/catalogue.ts'
import { Amount, fileMark, LOT_WRITTEN, TypedValue, Uuid } from '../common.ts'
import { inOrder } from '../places/places.ts'
import { idOf } from '../things.ts'

/**
 * Where a new item stands from the beginning: its levels in a place, its usual bin there, and what lies there already (as it
 * is typed on a slip; nothing where that is empty), in one lot. Of a place with several lots there are several.
 */
export const FirstStock = z
  .object({
    place: idOf('place'),
    minimum: Amount.nullable().default(null),
    target: Amount.nullable().default(null),
    bin: idOf('place').nullable().default(null),
    typed: z.string().max(60).default(''),
    lot: z.object(LOT_WRITTEN).nullable().default(null),
    /** What one of the base unit cost. */ price: TypedValue,
  })
  .refine(inOrder.holds, inOrder.said)
  .meta({ id: 'FirstStock' })
export type FirstStock = z.input<typeof FirstStock>
/** A new item with where it stands: all of it, or nothing. */
export const StockedItemInput = ItemInput.extend({ stock: z.array(FirstStock).max(50).default([]) }).meta({
  id: 'StockedItemInput',
})
export type StockedItemInput = z.output<typeof StockedItemInput>

/**
 * What a file of items may say, by the names of its columns: of the item itself, then of a place. The list of items is written
 * by the same.
 */
export const ITEM_COLUMNS = [
  'code',
  'name',
  'category',
  'unit',
  'decimals',
  'identified by',
  'cost method',
  'standard cost',
  'packs',
  'barcodes',
  'shelf life',
  'once opened',
  'weight',
  'density',
  'kept',
  'waste code',
  'witness',
  'count off by',
  'count off by %',
  'count off by worth',
  'note',
  'place',
  'minimum',
  'target',
  'bin',
  'there now',
  'lot',
  'use by',
  'one cost',
] as const
/**
 * Items as a spreadsheet has them, as CSV with a line of names at its head; some hundreds at once. `look`: what would come of
 * it is told, and nothing is written.
 */
export const ItemsBrought = z
  .object({
    text: z.string().max(2_000_000),
    /** Where it is that something lies, or has a level, where the file says no place. */
    place: idOf('place').nullable().default(null),
    decimalMark: fileMark,
    look: z.boolean().default(false),
  })
  .meta({ id: 'ItemsBrought' })
export type ItemsBrought = z.output<typeof ItemsBrought>
/** What came of them, or would come: each by its code. */
export const ItemsTaken = z
  .object({
    rows: z.array(
      z.object({
        /** Null where nothing was written yet. */ id: Uuid.nullable(),
        code: z.string(),
        name: z.string(),
        /** `retired`: it is out of use, and stays as it is. */
        came: z.enum(['new', 'changed', 'same', 'retired']),
        /** What of it is another than before, and what it was. */
        changed: z.array(z.object({ what: z.string(), was: z.string(), is: z.string() })),
        /** What the file says and was left as it is. */
        left: z.array(z.string()),
      }),
    ),
    /** Categories that were not there. */ categories: z.array(z.string()),
    /** What lies there already: the slips it is booked by. */
    openings: z.array(z.object({ id: Uuid.nullable(), place: z.string(), lines: z.number().int() })),
  })
  .meta({ id: 'ItemsTaken' })
export type ItemsTaken = z.infer<typeof ItemsTaken>
