import { z } from 'zod'
import { Amount, Code, Name, Revision, Uuid } from '../common.ts'
import { idOf } from '../things.ts'

/** Of a place that somebody sets up. */
export const PlaceKind = z.enum(['premises', 'area', 'bin', 'held'])
/** Of one that is there: what was sent lies on its way, what was picked for a job lies with it. */
export const AnyPlaceKind = z.enum([...PlaceKind.options, 'transit', 'with_job'])
export const PlaceInput = z
  .object({
    name: Name,
    parent: idOf('place').nullable().default(null),
    kind: PlaceKind.default('bin'),
    walk: z.number().int().min(0).max(1_000_000).optional(),
    codes: z.array(Code).max(5).default([]),
    /** Days from one count of an area to the next; null: no cycle. */ countEveryDays: z
      .number()
      .int()
      .min(1)
      .max(730)
      .nullable()
      .default(null),
    /** Whoever may ask for things may take them from it themselves. */ openShelf: z.boolean().default(false),
  })
  .meta({ id: 'PlaceInput' })
export const Place = z
  .object({
    id: Uuid,
    revision: Revision,
    name: z.string(),
    parent: Uuid.nullable(),
    kind: AnyPlaceKind,
    walk: z.number().int(),
    active: z.boolean(),
    path: z.string(),
    codes: z.array(z.string()),
    own: z.string(),
    /** Whether one may look into it, or only sees that it leads to what one may see. */ mine: z.boolean(),
    countEveryDays: z.number().int().nullable(),
    openShelf: z.boolean(),
  })
  .meta({ id: 'Place' })
export type Place = z.infer<typeof Place>
/** A minimum and a target, where both are set. */
export const inOrder = {
  holds: (l: { readonly minimum: string | null; readonly target: string | null }): boolean =>
    l.minimum === null || l.target === null || Number(l.minimum) <= Number(l.target),
  said: { message: 'the target is not below the minimum', path: ['target'] },
}
const levels = {
  minimum: Amount.nullable(),
  target: Amount.nullable(),
  bin: idOf('place').nullable().default(null),
}
export const LevelInput = z
  .object({
    item: idOf('item'),
    place: idOf('place'),
    ...levels,
    /** What stood there when it was written: where something else does by now, that is said first. */
    seen: z.object(levels).optional(),
  })
  .refine(inOrder.holds, inOrder.said)
  .meta({ id: 'LevelInput' })
export const Named = z
  .object({ id: Uuid, name: z.string(), code: z.string().nullable(), active: z.boolean(), own: z.string() })
  .meta({ id: 'Named' })
export type Named = z.infer<typeof Named>
export const NamedInput = z.object({ name: Name, code: Code.optional() }).meta({ id: 'NamedInput' })
const NamedSeen = z.object({ name: z.string(), code: z.string().nullable(), active: z.boolean() })
/** A name written otherwise; `active` false: it is not offered any more, and what was booked with it stays. */
export const NamedChange = NamedInput.extend({
  active: z.boolean().default(true),
  /** What stood there when it was written: where something else does by now, that is said first. */
  seen: NamedSeen.optional(),
}).meta({ id: 'NamedChange' })
export type NamedChange = z.input<typeof NamedChange>
/** A cost centre: `usual` is the area that it is served from, where nothing else is said. */
export const CostCentre = Named.extend({ usual: z.object({ id: Uuid, name: z.string() }).nullable() }).meta({
  id: 'CostCentre',
})
export type CostCentre = z.infer<typeof CostCentre>
export const CostCentreInput = NamedInput.extend({ usual: idOf('place').nullable().default(null) }).meta({
  id: 'CostCentreInput',
})
export const CostCentreChange = NamedChange.extend({
  usual: idOf('place').nullable().default(null),
  seen: NamedSeen.extend({ usual: idOf('place').nullable() }).optional(),
}).meta({ id: 'CostCentreChange' })
export type CostCentreChange = z.input<typeof CostCentreChange>
export const JobInput = z
  .object({ code: Code, name: Name, costCentre: idOf('cost_centre').nullable().default(null) })
  .meta({ id: 'JobInput' })
export const JobChange = JobInput.extend({
  active: z.boolean().default(true),
  seen: NamedSeen.extend({ costCentre: idOf('cost_centre').nullable() }).optional(),
}).meta({ id: 'JobChange' })
export type JobChange = z.input<typeof JobChange>
export const Job = z
  .object({
    id: Uuid,
    code: z.string(),
    name: z.string(),
    costCentre: z.object({ id: Uuid, name: z.string() }).nullable(),
    state: z.string(),
    active: z.boolean(),
    own: z.string(),
  })
  .meta({ id: 'Job' })
export type Job = z.infer<typeof Job>
