import type { DraftSaved, SlipContent } from '@shelve/contract'
import { call, get } from '../shell/api.ts'
import { freshContent, freshLine } from '../ledger/slip-store.ts'
import { v7 } from '../ledger/uuid.ts'

interface SheetLines { lines: { item: string; lot: { id: string; code: string | null; expiry: string | null } | null; place: string }[]; open: { id: string; title: string; by: string }[] }
/** Makes a sheet of an area: a draft with a line for everything that should be there. Slips not booked yet are told first, unless `sure`. */
export async function beginSheet(place: string, blind: boolean, sure: boolean): Promise<{ id: string } | { waiting: SheetLines['open'] }> {
  const sheet = await get<SheetLines>(`/api/sheets?place=${place}`)
  if (sheet.open.length && !sure) return { waiting: sheet.open }
  const content: SlipContent = { ...freshContent('count', place), lines: sheet.lines.map(l => freshLine({ item: l.item, lot: l.lot ? { id: l.lot.id, code: l.lot.code ?? '', expiry: l.lot.expiry } : null, from: l.place })) }
  content.head.blind = blind
  const id = v7()
  await call<DraftSaved>('PUT', `/api/slips/${id}`, { body: content })
  return { id }
}
