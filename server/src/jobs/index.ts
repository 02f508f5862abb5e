/** What is done again and again, what it takes, and whether it is there. */
export { demandSource, needSource } from './demand.ts'
export { finders } from './finders.ts'
export { type House } from './house.ts'
export { routes } from './routes.ts'
export { createTemplate } from './templates.ts'
