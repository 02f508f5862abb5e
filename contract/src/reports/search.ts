import { z } from 'zod'
import { Uuid } from '../common.ts'

/** What words mean beside items and places, which a device finds by itself: lots, slips, suppliers, jobs, cost centres, people. */
export const Found = z
  .object({
    kind: z.enum(['lot', 'slip', 'supplier', 'plan', 'job', 'cost_centre', 'person']),
    id: Uuid,
    name: z.string(),
    note: z.string(),
    /** Whose lot it is. */ item: Uuid.nullable(),
  })
  .meta({ id: 'Found' })
export type Found = z.infer<typeof Found>
