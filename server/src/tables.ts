/**
 * The schema, as the rooms have it: each table lives with its room. This file only collects them, for the migrations and
 * for whoever reads the whole database.
 */
export * from './accounts/tables.ts'
export * from './catalogue/tables.ts'
export * from './codes/tables.ts'
export * from './costcentres/tables.ts'
export * from './counting/tables.ts'
export * from './ground/tables.ts'
export * from './jobs/tables.ts'
export * from './ledger/checkpoint-tables.ts'
export * from './ledger/purposes.ts'
export * from './ledger/tables.ts'
export * from './notices/tables.ts'
export * from './papers/tables.ts'
export * from './people/tables.ts'
export * from './places/tables.ts'
export * from './position/tables.ts'
export * from './printing/tables.ts'
export * from './reports/tables.ts'
export * from './restocking/tables.ts'
export * from './suppliers/tables.ts'
export * from './waste/tables.ts'
