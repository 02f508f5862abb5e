import { z } from 'zod'
import { ItemInput } from '../catalogue/catalogue.ts'
import { Amount, LOT_WRITTEN, TypedValue } from '../common.ts'
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
