import { z } from 'zod'
import { found, id, named, op } from '../operation.ts'
import { idOf } from '../things.ts'
import { Budget, Year } from './budgets.ts'
import { Query } from '../common.ts'
import * as places from '../places/places.ts'

const centres = named('/api/cost-centres', 'cost centres', 'cost_centre')

/** What one may ask of this room. */
export const operations = {
  costCentres: { ...centres.list, answer: z.object({ rows: z.array(places.CostCentre) }) },
  createCostCentre: { ...centres.create, body: places.CostCentreInput },
  updateCostCentre: { ...centres.update, body: places.CostCentreChange },
  setBudget: op('put', '/api/cost-centres/:id/budgets/:year', 'What a cost centre may use in a year; null: no budget', {
    right: 'set_up',
    status: 204,
    params: z.object({ id: idOf('cost_centre'), year: Year }),
    body: Budget,
  }),
  jobs: op('get', '/api/jobs', 'Jobs that are in use, by name', {
    query: z.object({
      /** Of those that are not in use any more the latest instead, some at once: they grow in number all the time. */
      over: z.enum(['yes']).optional(),
      /** Of those the ones that are called so. */ q: Query.optional(),
      /** This one alone, in use or not. */ job: idOf('job').optional(),
    }),
    answer: z.object({
      rows: z.array(places.Job),
      /** How many more there are that are not in use. */ more: z.number().int(),
    }),
  }),
  updateJob: op('put', '/api/jobs/:id', 'Renames a job, charges it elsewhere, closes it or opens it again', {
    right: 'set_up',
    params: id.job,
    body: places.JobChange,
    answer: found,
  }),
} as const
