import { SlipContent, type SlipKind, type SlipLine } from '@shelve/contract'
import { v7 } from '../shell/uuid.ts'

/** A fresh line with everything it may lack. */
export const freshLine = (more: Partial<SlipLine> = {}): SlipLine => ({
  id: v7(),
  item: null,
  typed: '',
  unit: null,
  lot: null,
  from: null,
  to: null,
  price: '',
  discount: '',
  invoiced: '',
  reason: null,
  asked: '',
  side: 'in',
  share: '',
  ref: null,
  difference: null,
  act: 'none',
  counted: 'not',
  countedAt: null,
  counter: null,
  unitCost: '',
  again: '',
  override: false,
  accepts: [],
  note: '',
  direct: null,
  picture: null,
  leaves: '',
  opened: null,
  ...more,
})
export const freshContent = (kind: SlipKind, place: string | null): SlipContent =>
  SlipContent.parse({ kind, place, head: {}, lines: [] })
