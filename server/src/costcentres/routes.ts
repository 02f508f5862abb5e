import { namedView } from '../places/index.ts'
import { type Handlers, isIn, reach } from '../rights/index.ts'
import { createCostCentre, setBudget, updateCostCentre, updateJob } from './costcentres.ts'
import type { House } from './house.ts'
import { jobViews } from './job-views.ts'
import { costCentre } from './tables.ts'

/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House) {
  return {
    costCentres: ({ caller }) => {
      const seen = reach(house, caller)
      const named = namedView('cost_centre')
      // Where somebody may not look there is nothing that they are served from.
      const usual = (id: number | null) =>
        id === null || !isIn(seen, id) ? null : { id: house.places.row(id)!.uid, name: house.places.name(id) }
      const rows = house.db.select().from(costCentre).orderBy(costCentre.name).all()
      return { rows: rows.map(r => ({ ...named(r), usual: usual(r.usualId) })) }
    },
    createCostCentre: ({ body }) => ({
      id: house.setUp(() => createCostCentre(house, body.name, body.code, body.usual), 'names'),
    }),
    updateCostCentre: ({ params, body }) => ({
      id: house.setUp(() => updateCostCentre(house, params.id, body), 'names'),
    }),
    setBudget: ({ params, body }) => {
      house.setUp(() => setBudget(house, params.id, params.year, body), 'names')
      return undefined
    },
    jobs: ({ query }) => jobViews(house, query),
    updateJob: ({ params, body }) => {
      house.setUp(
        () => updateJob(house, params.id, body),
        crates => (crates ? 'everything' : 'names'),
      )
      return { id: params.id }
    },
  } satisfies Partial<Handlers>
}
