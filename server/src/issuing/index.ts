/** Issuing: what jobs and cost centres take, and what they bring back. */
export { kinds } from './kind.ts'
export { routes } from './routes.ts'
