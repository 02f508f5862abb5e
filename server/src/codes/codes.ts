import { eq } from 'drizzle-orm'
import { normaliseCode } from '@shelve/core'
import { Refused } from '../ground/index.ts'
import type { House } from './house.ts'
import { code } from './tables.ts'

/** Registers a code; a code that means something else already is refused by name. */
export function register(
  house: House,
  text: string,
  meaning: {
    kind: 'item' | 'pack' | 'lot' | 'place'
    itemId?: number
    packId?: number
    lotId?: number
    placeId?: number
  },
  field = 'codes',
): void {
  const normal = normaliseCode(text)
  const taken = house.db.select().from(code).where(eq(code.normal, normal)).get()
  if (taken) {
    if (
      taken.itemId === (meaning.itemId ?? null) &&
      taken.packId === (meaning.packId ?? null) &&
      taken.placeId === (meaning.placeId ?? null) &&
      taken.lotId === (meaning.lotId ?? null)
    )
      return
    const [kind, id] = taken.itemId !== null ? ['item', taken.itemId] : ['place', taken.placeId]
    const owner =
      id === null ? 'something else' : (house.codeOwners.get(kind as string)?.(id as number) ?? 'something else')
    throw new Refused(409, 'code_taken', `The code ${text} already means ${owner}.`, [
      {
        field,
        code: 'code_taken',
        message: `The code ${text} already means ${owner}. Take it off there first, or leave it out here.`,
      },
    ])
  }
  house.db
    .insert(code)
    .values({
      normal,
      scanned: text.trim(),
      kind: meaning.kind,
      itemId: meaning.itemId ?? null,
      packId: meaning.packId ?? null,
      lotId: meaning.lotId ?? null,
      placeId: meaning.placeId ?? null,
    })
    .run()
}
