import { sql } from 'drizzle-orm'
import { account } from '../accounts/index.ts'
import { Refused } from '../ground/index.ts'
import type { House } from './house.ts'
import { wasteReason } from './tables.ts'

export function createWasteReason(house: House, name: string): string {
  if (
    house.db
      .select()
      .from(wasteReason)
      .where(sql`fold(${wasteReason.name}) = fold(${name})`)
      .get()
  )
    throw new Refused(409, 'name_taken', `There is a reason ${name} already.`, [
      { field: 'name', code: 'name_taken', message: `There is a reason ${name} already.` },
    ])
  const id = house.db.insert(account).values({ kind: 'waste', name }).returning({ id: account.id }).get().id
  const uid = house.uid()
  house.db.insert(wasteReason).values({ id, uid, name, active: true }).run()
  return uid
}
