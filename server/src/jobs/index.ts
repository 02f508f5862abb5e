/** What is done again and again, what it takes, and whether it is there. */
export { demandSource, needSource } from './demand.ts'
export { finders } from './finders.ts'
export { type House } from './house.ts'
export { routes } from './routes.ts'
export { fallenUnder, findJobs, jobsWaiting } from './list.ts'
export { reserve, setState } from './states.ts'
export { createTemplate } from './templates.ts'
export { beginJob } from './writing.ts'
