/** People, sessions, passwords, badges, and what each arranged to their taste. */
export { finders } from './finders.ts'
export { type House } from './house.ts'
export { hashPassword, newPassword } from './passwords.ts'
export { addPerson } from './people.ts'
export { routes } from './routes.ts'
export { prepareRows } from './rows.ts'
export { begun, callerOf, errands, startSession, tokenOf } from './sessions.ts'
export { person } from './tables.ts'
