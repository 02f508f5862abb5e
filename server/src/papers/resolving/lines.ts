import type { SlipKind, SlipLine } from '@shelve/contract'
import type { DraftLine } from '@shelve/core'
import { bringBack } from './bring-back.ts'
import { inward } from './inward.ts'
import { outward } from './outward.ts'
import type { Reading } from './reading.ts'

/** The ledger lines of one typed line. */
export function linesOf(r: Reading, kind: SlipKind, line: SlipLine): DraftLine[] {
  const item = kind === 'bring_back' && line.item === null ? undefined : r.item(line)
  if (kind === 'bring_back') return bringBack(r, line, item)
  if (!item) return []
  const quantity = r.quantity(line, item)
  if (quantity === undefined) return []
  switch (kind) {
    case 'receipt':
    case 'opening':
      return inward(r, kind, line, item, quantity)
    case 'issue':
      return outward(r, kind, line, item, quantity, r.usedBy())
    case 'waste':
      return outward(r, kind, line, item, quantity, r.reason(line))
    case 'move': {
      const to = r.place(line, line.to, 'to')
      return to === undefined ? [] : outward(r, kind, line, item, quantity, to)
    }
    case 'supplier_return':
      return outward(r, kind, line, item, quantity, r.supplier())
    default:
      return []
  }
}
