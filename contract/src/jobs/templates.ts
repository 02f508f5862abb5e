import { z } from 'zod'
import { Code, Decimal, Instant, Name, Note, Short, Uuid, Value } from '../common.ts'
import { idOf } from '../things.ts'

/** An amount as somebody types it, in a unit or pack where it names none. */
const typed = z.string().max(60).default('')
const unit = z.string().max(120).nullable().default(null)
/** A share in per cent, as somebody types it; nothing: what goes without saying. */
const Percent = z.string().max(12).default('')

/** What a template takes of an item: an amount for what it makes at once, one more for each run, and what is lost of both. */
export const TemplateLine = z
  .object({
    id: idOf('own'),
    item: idOf('item'),
    typed,
    unit,
    /** For each run, however much is made; in the same unit. */
    fixed: typed,
    loss: Percent,
    /** It may be left out. */
    optional: z.boolean().default(false),
    /** Where it is usually taken from; null: where the job is. */
    from: idOf('place').nullable().default(null),
    /** What may be taken in its place, and how much of it. */
    instead: z
      .array(z.object({ item: idOf('item'), typed, unit }))
      .max(5)
      .default([]),
    note: Short.default(''),
  })
  .meta({ id: 'TemplateLine' })
export type TemplateLine = z.infer<typeof TemplateLine>

/** What comes of it beside what it makes: a by-product. */
export const Beside = z
  .object({
    item: idOf('item'),
    /** For what the lines are for. */
    typed,
    unit,
    /** Its part of the cost, beside the part of what is made and of other by-products; 0: it costs nothing. */
    share: typed,
    shelfLife: z.number().int().min(1).max(36_500).nullable().default(null),
  })
  .meta({ id: 'Beside' })
export type Beside = z.infer<typeof Beside>

/** How something is done again and again: a recipe, a service, a protocol. It makes an item, or only uses. */
export const Template = z
  .object({
    code: Code,
    name: Name,
    makes: z
      .object({
        item: idOf('item'),
        /** What its lines are for, before anything is lost. */
        typed,
        unit,
        /** How much of that really comes out. */
        yields: Percent,
        /** It is made in whole multiples of this; nothing: in any amount. */
        batch: typed,
        shelfLife: z.number().int().min(1).max(36_500).nullable().default(null),
        /** Its own part of the cost where there are by-products; nothing: 1. */
        share: typed,
        besides: z.array(Beside).max(10).default([]),
      })
      .nullable()
      .default(null),
    lines: z.array(TemplateLine).min(1, 'what does it take?').max(200),
    steps: Note.default(''),
    note: Note.default(''),
    active: z.boolean().default(true),
  })
  .refine(t => new Set(t.lines.map(l => l.id)).size === t.lines.length, {
    message: 'two lines have the same id',
    path: ['lines'],
  })
  .meta({ id: 'Template' })
export type Template = z.infer<typeof Template>
export type TemplateInput = z.input<typeof Template>

export const ItemNamed = z.object({ id: Uuid, code: z.string(), name: z.string(), unit: z.string() })

export const TemplateRow = z
  .object({
    id: Uuid,
    code: z.string(),
    name: z.string(),
    active: z.boolean(),
    version: z.number().int(),
    /** What it makes; null: it only uses. */
    makes: ItemNamed.nullable(),
    lines: z.number().int(),
  })
  .meta({ id: 'TemplateRow' })
export type TemplateRow = z.infer<typeof TemplateRow>

/** A template as it was saved last; each earlier version stays. */
export const TemplateView = z
  .object({ id: Uuid, version: z.number().int(), savedAt: Instant, savedBy: z.string(), content: Template })
  .meta({ id: 'TemplateView' })
export type TemplateView = z.infer<typeof TemplateView>

export const TemplateNeed = z.object({
  item: ItemNamed,
  /** As it is written, and as it was before it was rounded (a fraction where it has no end). */
  need: Decimal,
  exact: z.string(),
  /** The template that makes it; null: it is bought. */
  made: Uuid.nullable(),
  /** Of a part: how much of it is made. */
  make: Decimal,
  /** Of it: what is there, what could come from elsewhere, and what is nowhere. */
  here: Decimal,
  elsewhere: Decimal,
  missing: Decimal,
  /** What one costs where it lies, what was last paid for one, and what all that is taken of it is worth. */
  cost: Value.nullable().optional(),
  last: Value.nullable().optional(),
  worth: Value.nullable().optional(),
})
export type TemplateNeed = z.infer<typeof TemplateNeed>
/** What making so much of it takes, through all its parts; whether it is there; what it costs. */
export const TemplateNeeds = z
  .object({
    wanted: Decimal,
    unit: z.string(),
    lines: z.array(TemplateNeed),
    /** How many could be made of what is there, and what would be short at one more. */
    could: Decimal,
    short: z.array(z.object({ item: ItemNamed, quantity: Decimal })),
    cost: Value.nullable().optional(),
    one: Value.nullable().optional(),
    /** The same at what was last paid. */
    atLast: Value.nullable().optional(),
  })
  .meta({ id: 'TemplateNeeds' })
export type TemplateNeeds = z.infer<typeof TemplateNeeds>
