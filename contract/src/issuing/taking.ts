import { z } from 'zod'
import { Short } from '../common.ts'
import { SlipLine } from '../papers/content.ts'
import { idOf } from '../things.ts'

/** What somebody takes from an open shelf themselves, and for what. */
export const Taking = z
  .object({
    place: idOf('place'),
    job: idOf('job').nullable().default(null),
    costCentre: idOf('cost_centre').nullable().default(null),
    note: Short.default(''),
    lines: z
      .array(SlipLine.pick({ id: true, typed: true, unit: true, lot: true }).extend({ item: idOf('item') }))
      .min(1)
      .max(100),
  })
  .meta({ id: 'Taking' })
export type Taking = z.infer<typeof Taking>
