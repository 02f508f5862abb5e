import { operations as catalogue } from './catalogue/operations.ts'
import { operations as costcentres } from './costcentres/operations.ts'
import { operations as counting } from './counting/operations.ts'
import { operations as jobs } from './jobs/operations.ts'
import { operations as issuing } from './issuing/operations.ts'
import { operations as moving } from './moving/operations.ts'
import { operations as papers } from './papers/operations.ts'
import { operations as people } from './people/operations.ts'
import { operations as places } from './places/operations.ts'
import { operations as position } from './position/operations.ts'
import { operations as receiving } from './receiving/operations.ts'
import { operations as reports } from './reports/operations.ts'
import { operations as restocking } from './restocking/operations.ts'
import { operations as serverItself } from './server.ts'
import { operations as suppliers } from './suppliers/operations.ts'
import { operations as waste } from './waste/operations.ts'
import type { Operation } from './operation.ts'

/** Every route of the server, once: it parses requests by this table, and the OpenAPI document is made of it. Each room says its own. */
export const api = {
  ...serverItself,
  ...people,
  ...catalogue,
  ...reports,
  ...position,
  ...places,
  ...suppliers,
  ...waste,
  ...costcentres,
  ...restocking,
  ...jobs,
  ...issuing,
  ...moving,
  ...papers,
  ...receiving,
  ...counting,
} as const satisfies Record<string, Operation>
export type Api = typeof api
