import { readQuantity } from '@shelve/core'
import type { ItemRow } from '../catalogue/index.ts'
import type { House } from './house.ts'
import { quantityRefusal, wordRefusal } from './words.ts'

/** What a line asks for; where it cannot be read nothing yet, and why. */
export function typedOf(
  house: House,
  it: ItemRow,
  l: { readonly typed: string; readonly unit: string | null },
): { readonly quantity: bigint; readonly unread: string | null } {
  if (!l.typed.trim()) return { quantity: 0n, unread: null }
  const read = readQuantity(l.typed, house.known.measure(it), l.unit ?? undefined, true)
  return read.ok
    ? { quantity: read.quantity, unread: null }
    : { quantity: 0n, unread: wordRefusal(house, quantityRefusal(read, l.typed, it.unit), () => it.unit).message }
}
