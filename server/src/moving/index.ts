/** Moving: from shelf to shelf, at once or by way of a carrier. */
export { kinds } from './kind.ts'
export { type House } from './house.ts'
export { routes } from './routes.ts'
export { sentBooked } from './transfers.ts'
export { transfersWaiting } from './waiting.ts'
