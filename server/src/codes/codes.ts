import { normaliseCode } from '@shelve/core'
import { Refused } from '../ground/index.ts'
import type { House } from './house.ts'

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
  const taken = house.rows.codeByNormal.get({ normal })
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
  house.rows.insertCode.run({
    normal,
    scanned: text.trim(),
    kind: meaning.kind,
    item: meaning.itemId ?? null,
    pack: meaning.packId ?? null,
    lot: meaning.lotId ?? null,
    place: meaning.placeId ?? null,
  })
}
