/** Accounts that movements run between; places, suppliers, reasons and what jobs use are accounts with a table of their own. */
export { FixedAccounts, openFixedAccounts } from './fixed.ts'
export { type House } from './house.ts'
export { prepareRows } from './rows.ts'
export { account } from './tables.ts'
