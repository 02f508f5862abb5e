/** Cost centres, and jobs as far as there are any: what stock is used for. */
export { centreUid, createCostCentre, createJob, jobCodeFree, setBudget, updateCostCentre } from './costcentres.ts'
export { finders } from './finders.ts'
export { type House } from './house.ts'
export { routes } from './routes.ts'
export { prepareRows } from './rows.ts'
export { budget, costCentre, ENDED, job } from './tables.ts'
