/** Counting: cycles, sheets, open differences. */
export { belongings, countCycles, dayPlus } from './cycles.ts'
export { finders } from './finders.ts'
export { type House } from './house.ts'
export { kinds } from './kind.ts'
export { freeSheet, releaseSheet, sheetByNumber, sheetRefusals } from './printed.ts'
export { routes } from './routes.ts'
export { openDifferences } from './sheets.ts'
export { sheet } from './tables.ts'
