import { z } from 'zod'
import { op } from '../operation.ts'
import * as places from '../places/places.ts'

/** What one may ask of this room. */
export const operations = {
  suppliers: op('get', '/api/suppliers', 'All suppliers', { answer: z.object({ rows: z.array(places.Named) }) }),
} as const
