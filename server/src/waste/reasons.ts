import { eq, sql } from 'drizzle-orm'
import type { NamedChange } from '@shelve/contract'
import { account } from '../accounts/index.ts'
import { demandSeen } from '../ground/index.ts'
import { demandFree, renameAccount, want } from '../places/index.ts'
import type { House } from './house.ts'
import { wasteReason } from './tables.ts'

/** That the name is no other reason's. */
function nameFree(house: House, name: string, self: number): void {
  const taken = house.db
    .select({ id: wasteReason.id })
    .from(wasteReason)
    .where(sql`fold(${wasteReason.name}) = fold(${name})`)
    .get()
  demandFree(taken, self, 'name', name, 'reason')
}

export function createWasteReason(house: House, name: string): string {
  nameFree(house, name, 0)
  const id = house.db.insert(account).values({ kind: 'waste', name }).returning({ id: account.id }).get().id
  const uid = house.uid()
  house.db.insert(wasteReason).values({ id, uid, name, active: true }).run()
  return uid
}

/** A reason is renamed, or not offered any more. */
export function updateWasteReason(house: House, uid: string, input: NamedChange): string {
  const { id } = want(house.rows.wasteReason.get({ uid }), 'reason')
  const is = house.db.select().from(wasteReason).where(eq(wasteReason.id, id)).get()!
  demandSeen(input.seen, { name: is.name, code: null, active: is.active })
  const name = input.name.trim()
  nameFree(house, name, id)
  house.db
    .update(wasteReason)
    .set({ name, active: input.active ?? true })
    .where(eq(wasteReason.id, id))
    .run()
  renameAccount(house, id, name)
  return uid
}
