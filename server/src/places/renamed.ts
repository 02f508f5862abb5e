import { eq } from 'drizzle-orm'
import { account } from '../accounts/index.ts'
import { notFound, Refused } from '../ground/index.ts'
import type { House } from './house.ts'

/** Something known by its name, as it stands. */
export interface NamedRow {
  readonly id: number
  readonly name: string
}

/** That a name or code of a list is nobody else's: `taken` is whoever bears it. */
export function demandFree(
  taken: { readonly id: number } | undefined,
  self: number,
  field: 'name' | 'code',
  text: string,
  what: string,
): void {
  if (!taken || taken.id === self) return
  const message = `There is a ${what} ${text} already. Choose another ${field}.`
  throw new Refused(409, `${field}_taken`, message, [{ field, code: `${field}_taken`, message }])
}

/** The row that is meant, or that there is none. */
export function want<R>(row: R | undefined, what: string): R {
  if (!row) throw notFound(what)
  return row
}

/** An account is called as what it stands for is. */
export function renameAccount(house: House, id: number, name: string): void {
  house.db.update(account).set({ name }).where(eq(account.id, id)).run()
}
