/** Receiving: deliveries and opening stock, and what goes back to its supplier. */
export { kinds } from './kind.ts'
export { routes } from './routes.ts'
