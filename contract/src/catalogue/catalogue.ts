import { z } from 'zod'
import {
  Amount,
  Code,
  Day,
  Decimal,
  IdentifiedBy,
  Instant,
  Method,
  Name,
  Note,
  Revision,
  Short,
  Tolerance,
  Uuid,
} from '../common.ts'
import { idOf, showsValue } from '../things.ts'

/** How an item comes. `size` is one of it in the base unit, exactly: `12` or `1/3`. */
export const PackInput = z.object({
  id: idOf('pack').optional(),
  name: Name,
  size: z
    .string()
    .regex(/^\d{1,12}(\.\d{1,6})?(\/[1-9]\d{0,11})?$/, 'a number like 12, 0.75 or 1/3 is wanted')
    .refine(s => !/^0+(\.0*)?(\/|$)/.test(s), 'more than 0 is wanted'),
  codes: z.array(Code).max(20).default([]),
  buying: z.boolean().default(true),
  issuing: z.boolean().default(true),
  counting: z.boolean().default(true),
})
export const Pack = PackInput.required()
  .extend({ codes: z.array(z.string()) })
  .meta({ id: 'Pack' })
export type Pack = z.infer<typeof Pack>
const itemFields = {
  code: Code,
  name: Name,
  category: idOf('category').nullable().default(null),
  unit: Name.max(20).optional(),
  decimals: z.number().int().min(0).max(6).optional(),
  identifiedBy: IdentifiedBy.optional(),
  kept: z.enum(['stock', 'bought_for', 'charge']).default('stock'),
  method: Method.nullable().default(null),
  tolerance: Tolerance.nullable().default(null),
  /** What one costs by the standard: asked where the item is costed so. Once something moved it is set by a slip. */
  standardCost: showsValue(z.string().max(30).nullable().default('')),
  shelfLifeDays: z.number().int().min(1).max(36500).nullable().default(null),
  /** How many days it may be used once its container is open. */
  daysOnceOpened: z.number().int().min(0).max(36500).nullable().default(null),
  /** Grams in a millilitre, and grams in one base unit. */
  density: Amount.nullable().default(null),
  mass: Amount.nullable().default(null),
  /** By what code it is disposed of, where it is. */
  wasteCode: Short.default(''),
  /** Two throw it away: somebody who was there shows it. */ witnessed: z.boolean().default(false),
  note: Note.default(''),
  codes: z.array(Code).max(20).default([]),
  packs: z.array(PackInput).max(20).default([]),
}
/** A new item: only code, name and unit are needed, and the unit not even where the category hands one down. */
export const ItemInput = z.object(itemFields).meta({ id: 'ItemInput' })
export type ItemInput = z.input<typeof ItemInput>
/** What is written down of a thing that nobody knows yet: enough to book it. Its code for people is proposed. */
export const FoundItem = z
  .object({
    code: Code,
    name: Name,
    unit: Name.max(20),
    identifiedBy: IdentifiedBy.default('quantity'),
    /** What the code stands on, where it is not one unit. */
    pack: PackInput.pick({ name: true, size: true }).nullable().default(null),
  })
  .meta({ id: 'FoundItem' })
export type FoundItem = z.infer<typeof FoundItem>
export const Item = z
  .object({
    id: Uuid,
    revision: Revision,
    code: z.string(),
    name: z.string(),
    category: z.object({ id: Uuid, name: z.string() }).nullable(),
    unit: z.string(),
    decimals: z.number().int(),
    identifiedBy: IdentifiedBy,
    kept: z.enum(['stock', 'bought_for', 'charge']),
    method: Method,
    ownMethod: Method.nullable(),
    standardCost: showsValue(Amount.nullable()),
    shelfLifeDays: z.number().int().nullable(),
    daysOnceOpened: z.number().int().nullable(),
    /** The same as far as the item says them itself, and no category hands them down. */
    ownShelfLifeDays: z.number().int().nullable(),
    ownDaysOnceOpened: z.number().int().nullable(),
    /** How far off a count of it may be; by itself, or by what is above it. */ tolerance: Tolerance,
    ownTolerance: Tolerance.nullable(),
    density: Amount.nullable(),
    mass: Amount.nullable(),
    wasteCode: z.string(),
    witnessed: z.boolean(),
    note: z.string(),
    codes: z.array(z.string()),
    packs: z.array(Pack),
    active: z.boolean(),
    /** Who wrote it down where it was found; null: nothing is left to complete. */
    foundBy: z.string().nullable(),
    unitFrozen: z.boolean(),
    /** Whether something of it lies somewhere: then another cost method is a slip of its own. */
    methodBySlip: z.boolean(),
  })
  .meta({ id: 'Item' })
export type Item = z.infer<typeof Item>
/** What a device keeps of every item, so that a scan is answered without the network. */
export const IndexItem = z.object({
  id: Uuid,
  code: z.string(),
  name: z.string(),
  unit: z.string(),
  decimals: z.number().int(),
  identifiedBy: IdentifiedBy,
  kept: z.string(),
  category: z.string().nullable(),
  density: Amount.nullable(),
  packs: z.array(
    z.object({ name: z.string(), size: z.string(), buying: z.boolean(), issuing: z.boolean(), counting: z.boolean() }),
  ),
  codes: z.array(z.object({ code: z.string(), pack: z.string().nullable() })),
})
export type IndexItem = z.infer<typeof IndexItem>
export const IndexView = z.object({ revision: z.number().int(), items: z.array(IndexItem) }).meta({ id: 'Index' })

export const CategoryInput = z
  .object({
    name: Name,
    parent: idOf('category').nullable().default(null),
    unit: Name.max(20).nullable().default(null),
    decimals: z.number().int().min(0).max(6).nullable().default(null),
    identifiedBy: IdentifiedBy.nullable().default(null),
    method: Method.nullable().default(null),
    shelfLifeDays: z.number().int().min(1).max(36500).nullable().default(null),
    daysOnceOpened: z.number().int().min(0).max(36500).nullable().default(null),
    tolerance: Tolerance.nullable().default(null),
  })
  .meta({ id: 'CategoryInput' })
export const Category = z
  .object({
    id: Uuid,
    revision: Revision,
    name: z.string(),
    parent: Uuid.nullable(),
    unit: z.string().nullable(),
    decimals: z.number().int().nullable(),
    identifiedBy: IdentifiedBy.nullable(),
    method: Method.nullable(),
    shelfLifeDays: z.number().int().nullable(),
    daysOnceOpened: z.number().int().nullable(),
    tolerance: Tolerance.nullable(),
    items: z.number().int(),
  })
  .meta({ id: 'Category' })
export type Category = z.infer<typeof Category>

export const LotView = z
  .object({
    id: Uuid,
    code: z.string().nullable(),
    expiry: Day.nullable(),
    state: z.enum(['usable', 'held', 'expired', 'recalled']),
    received: Instant,
    opened: Instant.nullable(),
    parent: Uuid.nullable(),
    places: z.array(z.object({ place: Uuid, name: z.string(), quantity: Decimal })),
    quantity: Decimal,
  })
  .meta({ id: 'Lot' })
export type LotView = z.infer<typeof LotView>
export const LotStateInput = z
  .object({ held: z.enum(['usable', 'held', 'recalled']), why: Short.min(1, 'a reason is wanted') })
  .meta({ id: 'LotStateInput' })

/** What a code means. A code nobody registered is answered with what can be read from it. */
export const CodeMeaning = z
  .object({
    code: z.string(),
    kind: z.enum(['item', 'pack', 'lot', 'place', 'party', 'slip', 'sheet', 'command', 'unknown']),
    item: Uuid.nullable(),
    pack: z.string().nullable(),
    lot: z.object({ id: Uuid.nullable(), code: z.string(), expiry: Day.nullable() }).nullable(),
    place: Uuid.nullable(),
    slip: Uuid.nullable(),
    sheet: z.object({ id: Uuid, page: z.number().int() }).nullable(),
    command: z.string().nullable(),
    party: z
      .object({ kind: z.enum(['job', 'cost_centre', 'supplier', 'reason']), id: Uuid, name: z.string() })
      .nullable(),
    quantity: Decimal.nullable(),
    why: z.string().nullable(),
  })
  .meta({ id: 'CodeMeaning' })
export type CodeMeaning = z.infer<typeof CodeMeaning>
export const LinkCode = z
  .object({ code: Code, item: idOf('item'), pack: Name.nullable().default(null) })
  .meta({ id: 'LinkCode' })
