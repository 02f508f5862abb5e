import { z } from 'zod'
import { LOT_WRITTEN, Short } from '../common.ts'
import { idOf } from '../things.ts'

/** What somebody takes from an open shelf themselves, and for what. */
export const Taking = z
  .object({
    place: idOf('place'),
    job: idOf('job').nullable().default(null),
    costCentre: idOf('cost_centre').nullable().default(null),
    note: Short.default(''),
    lines: z
      .array(
        z.object({
          id: idOf('own'),
          item: idOf('item'),
          typed: z.string().max(60),
          unit: z.string().max(120).nullable().default(null),
          lot: z
            .object({ id: idOf('lot').nullable().default(null), ...LOT_WRITTEN })
            .nullable()
            .default(null),
        }),
      )
      .min(1)
      .max(100),
  })
  .meta({ id: 'Taking' })
export type Taking = z.infer<typeof Taking>
