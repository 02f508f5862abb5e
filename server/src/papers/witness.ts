import { eq } from 'drizzle-orm'
import { saidOf, type SlipContent } from '@shelve/contract'
import { type Booked, type Refusal, refuse } from '@shelve/core'
import { Refused } from '../ground/index.ts'
import { shownToBe } from '../people/index.ts'
import type { KnownAsking } from '../rights/index.ts'
import { requestOf } from './handed.ts'
import type { House } from './house.ts'
import { witness } from './tables.ts'

/** Who was there when a slip wasted something that two throw away: nobody is asked for, or somebody is and has come or not. */
export interface Witnessed {
  /** What of it two throw away, by name. */
  readonly items: readonly string[]
  /** Whoever showed that they were there, of what the slip says now. */
  readonly by: { readonly id: number; readonly name: string } | undefined
  /** The slip says something else since somebody did. */
  readonly since: string | undefined
}

/** What a slip wastes of items that want a witness, and who it was. What is only put right in value wants none. */
export function witnessOf(house: House, uid: string, content: SlipContent, booked: Booked | undefined): Witnessed {
  const items = new Set(
    (booked?.movements ?? []).flatMap(m => {
      if (m.quantity <= 0n || m.reverses !== null || m.revalues !== null) return []
      const it = house.known.itemById(m.itemId)!
      return it.witnessed && house.rows.account.get({ id: m.to })?.kind === 'waste' ? [it.name] : []
    }),
  )
  const row = items.size ? house.db.select().from(witness).where(eq(witness.slipUid, uid)).get() : undefined
  if (!row) return { items: [...items], by: undefined, since: undefined }
  const { name } = house.rows.personName.get({ id: row.personId })!
  return row.requestHash === requestOf(saidOf(content))
    ? { items: [...items], by: { id: row.personId, name }, since: undefined }
    : { items: [...items], by: undefined, since: name }
}

/** What two throw away is not thrown away by one. */
export const witnessRefusals = ({ items, by, since }: Witnessed): Refusal[] =>
  !items.length || by
    ? []
    : [refuse('witness_wanted', null, 'witness', { items: items.join(', '), ...(since ? { name: since } : {}) })]

/** Somebody else than whoever writes a slip shows that they were there, and sees what it says: of nothing else it holds. */
export async function witnessed(
  house: House,
  asking: KnownAsking,
  uid: string,
  content: SlipContent,
  who: Parameters<typeof shownToBe>[1],
): Promise<{ name: string }> {
  if (house.rows.slip.get({ uid })?.state === 'booked')
    throw new Refused(409, 'booked_already', 'This slip is booked already.')
  const { id, name } = await shownToBe(house, who, asking)
  if (id === asking.caller.id)
    throw new Refused(409, 'own_witness', 'That is you. Somebody else must have been there: their badge, or their PIN.')
  const said = { personId: id, requestHash: requestOf(saidOf(content)), at: house.now() }
  house.db
    .insert(witness)
    .values({ slipUid: uid, ...said })
    .onConflictDoUpdate({ target: witness.slipUid, set: said })
    .run()
  return { name }
}
