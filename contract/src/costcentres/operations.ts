import { z } from 'zod'
import { found, named, op } from '../operation.ts'
import * as places from '../places/places.ts'

const centres = named('/api/cost-centres', 'cost centres')

/** What one may ask of this room. */
export const operations = {
  costCentres: centres.list,
  createCostCentre: centres.create,
  jobs: op('get', '/api/jobs', 'Jobs', { answer: z.object({ rows: z.array(places.Job) }) }),
  createJob: op('post', '/api/jobs', 'A new standing job', {
    right: 'set_up',
    status: 201,
    body: places.JobInput,
    answer: found,
  }),
} as const
