/** What is short, and what was asked for. */
export { owedSource } from './coming.ts'
export { finders } from './finders.ts'
export { type House } from './house.ts'
export { elsewhereOf, elsewhereView } from './proposal.ts'
export { markAsked } from './asking.ts'
export { restockOf, restockWaiting } from './restock.ts'
export { beginRestock } from './writing.ts'
export { routes } from './routes.ts'
