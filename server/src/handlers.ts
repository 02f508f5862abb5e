import type { House } from './compose.ts'
import { routes as catalogueRoutes } from './catalogue/index.ts'
import { routes as costCentresRoutes } from './costcentres/index.ts'
import { routes as countingRoutes } from './counting/index.ts'
import { routes as issuingRoutes } from './issuing/index.ts'
import { routes as jobsRoutes } from './jobs/index.ts'
import { routes as movingRoutes } from './moving/index.ts'
import { routes as papersRoutes } from './papers/index.ts'
import { routes as peopleRoutes } from './people/index.ts'
import { routes as placesRoutes } from './places/index.ts'
import { routes as positionRoutes } from './position/index.ts'
import { routes as receivingRoutes } from './receiving/index.ts'
import { lookBackRoutes, routes as reportsRoutes } from './reports/index.ts'
import { routes as restockingRoutes } from './restocking/index.ts'
import { type Reached, routes as topRoutes } from './routes.ts'
import { routes as suppliersRoutes } from './suppliers/index.ts'
import { routes as wasteRoutes } from './waste/index.ts'
import type { Handlers } from './rights/index.ts'

/** Every operation of the contract with its use case, from all rooms. */
export const handlersOf = (house: House, reached: Reached): Handlers => ({
  ...topRoutes(house, reached),
  ...peopleRoutes(house),
  ...placesRoutes(house),
  ...suppliersRoutes(house),
  ...costCentresRoutes(house),
  ...catalogueRoutes(house),
  ...positionRoutes(house),
  ...papersRoutes(house),
  ...receivingRoutes(house),
  ...wasteRoutes(house),
  ...countingRoutes(house),
  ...restockingRoutes(house),
  ...issuingRoutes(house),
  ...jobsRoutes(house),
  ...movingRoutes(house),
  ...reportsRoutes(house),
  ...lookBackRoutes(house),
})

/** Where a house is reached that nobody asks over the network. */
export const NOWHERE: Reached = { kind: 'off', names: [], plainPort: null, authority: null }
