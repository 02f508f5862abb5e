import { type Kind, outward, type Reading } from '../papers/index.ts'
import type { SlipLine } from '@shelve/contract'
import type { House } from './house.ts'

/** What spoiled or broke goes from its shelf to the account of its reason. */
export const kinds = (house: House): readonly Kind[] => [
  {
    kind: 'waste',
    prefix: 'WA',
    title: ({ first }) => first || 'waste',
    lines: (r, line) => r.moved(line, (item, quantity) => outward(r, line, item, quantity, reason(house, r, line))),
  },
]

/** The account of a line's reason, or of the slip's. */
function reason(house: House, r: Reading, line: SlipLine): number {
  const uid = line.reason ?? r.content.head.reason
  const row = uid ? house.rows.wasteReason.get({ uid }) : undefined
  if (row && !row.active && r.begins) r.no(line, 'reason_ended', 'reason', { name: row.name })
  if (row) return row.id
  r.no(line, 'reason_needed', 'reason')
  return house.rows.firstAccount.get({ kind: 'waste' })!.id
}
