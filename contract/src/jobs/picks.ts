import { z } from 'zod'
import { Decimal, Instant, Short, Uuid } from '../common.ts'
import { idOf } from '../things.ts'
import { InPlace } from './jobs.ts'
import { ItemNamed } from './templates.ts'

/** A list for picking what some jobs need where it lies, in the order of the walk. The list is a slip, as a draft. */
export const NewPick = z
  .object({
    id: idOf('draft'),
    jobs: z.array(idOf('job')).min(1, 'for which jobs?').max(40),
    name: Short.default(''),
    picker: idOf('person').nullable().default(null),
  })
  .meta({ id: 'NewPick' })
export type NewPick = z.infer<typeof NewPick>

export const PickRow = z
  .object({
    /** The slip. */
    id: Uuid,
    /** Once it is put down. */
    number: z.string().nullable(),
    name: z.string(),
    place: z.string(),
    /** `picking`: somebody takes it; `ready`: it lies with its jobs; `fetched`: whoever it is for has it. */
    state: z.enum(['picking', 'ready', 'fetched']),
    picker: z.string().nullable(),
    by: z.string(),
    at: Instant,
    /** How many lines are taken, and of how many. */
    taken: z.number().int(),
    lines: z.number().int(),
    jobs: z.array(z.object({ id: Uuid, code: z.string(), name: z.string() })),
    fetchedBy: z.string().nullable(),
    fetchedAt: Instant.nullable(),
  })
  .meta({ id: 'PickRow' })
export type PickRow = z.infer<typeof PickRow>

/** What is known of a list beside what stands on its slip. */
export const PickView = PickRow.extend({
  /** Where it is put down: with a job, or (null) in a place that it fills. */
  places: z.array(
    z.object({
      id: Uuid,
      name: z.string(),
      job: z.object({ id: Uuid, code: z.string(), name: z.string() }).nullable(),
    }),
  ),
  /** What its jobs still need and is not where they are done. */
  short: z.array(
    z.object({
      job: z.object({ id: Uuid, code: z.string() }),
      need: Uuid,
      item: ItemNamed,
      quantity: Decimal,
      elsewhere: z.array(z.object({ place: z.string(), quantity: Decimal })),
      instead: z.array(InPlace),
    }),
  ),
  /** What its jobs still need, is here by now and does not stand on it: the names of these things. */
  more: z.array(z.string()),
}).meta({ id: 'PickView' })
export type PickView = z.infer<typeof PickView>
