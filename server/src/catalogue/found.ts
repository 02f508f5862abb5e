import type { FoundItem, ItemInput } from '@shelve/contract'
import { proposeCode } from '@shelve/core'
import type { House } from './house.ts'
import { codeBearer, createItem, methodOf } from './items.ts'

/** Units of which parts are weighed or poured: they begin with three decimals, others with whole numbers. */
const MEASURED = /^(kg|l|m)$/i

/**
 * Writes down a thing that nobody knows yet where it stands, by whoever may book: its name, its unit, its code. All else
 * is as handed down, and whoever sets up is asked to complete it. It is not costed by a standard: nobody here knows one.
 */
export function createFound(house: House, found: FoundItem, by: number): number {
  const standard = methodOf(house, { method: null, categoryId: null }) === 'standard'
  const input: ItemInput = {
    code: proposeCode(found.name, code => codeBearer(house, code) !== undefined),
    name: found.name,
    unit: found.unit,
    decimals: MEASURED.test(found.unit) ? 3 : 0,
    identifiedBy: found.identifiedBy,
    method: standard ? 'average' : null,
    codes: found.pack ? [] : [found.code],
    packs: found.pack ? [{ ...found.pack, codes: [found.code] }] : [],
  }
  return createItem(house, input, { foundBy: by })
}
