import { z } from 'zod'
import { found, id, named, op } from '../operation.ts'
import * as places from '../places/places.ts'

const centres = named('/api/cost-centres', 'cost centres', 'cost_centre')

/** What one may ask of this room. */
export const operations = {
  costCentres: centres.list,
  createCostCentre: centres.create,
  updateCostCentre: centres.update,
  jobs: op('get', '/api/jobs', 'Jobs', { answer: z.object({ rows: z.array(places.Job) }) }),
  updateJob: op('put', '/api/jobs/:id', 'Renames a job, charges it elsewhere, closes it or opens it again', {
    right: 'set_up',
    params: id.job,
    body: places.JobChange,
    answer: found,
  }),
} as const
