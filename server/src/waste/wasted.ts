import type { SlipLine } from '@shelve/contract'
import type { Reading } from '../papers/index.ts'
import type { House } from './house.ts'

/** The account of what is wasted by a line: of its reason, or of the slip's. */
export function wastedBy(house: House, r: Reading, line: SlipLine): number {
  const uid = line.reason ?? r.content.head.reason
  const row = uid ? house.rows.wasteReason.get({ uid }) : undefined
  if (row && !row.active && r.begins) r.no(line, 'reason_ended', 'reason', { name: row.name })
  if (row) return row.id
  r.no(line, 'reason_needed', 'reason')
  return house.rows.firstAccount.get({ kind: 'waste' })!.id
}
