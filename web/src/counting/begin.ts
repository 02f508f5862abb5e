import type { Router } from 'vue-router'
import type { CountArea, DraftSaved, SlipContent, SlipView } from '@shelve/contract'
import { call, get } from '../shell/api.ts'
import type { useStrip } from '../shell/strip.ts'
import { freshContent, freshLine } from '../ledger/fresh.ts'
import { v7 } from '../ledger/uuid.ts'
import { useFormat } from '../ui/format.ts'

interface SheetLines {
  lines: { item: string; lot: { id: string; code: string | null; expiry: string | null } | null; place: string }[]
  open: { id: string; title: string; by: string }[]
}
/** Makes a sheet of an area: a draft with a line for everything that should be there. Slips not booked yet are told first, unless `sure`. */
export async function beginSheet(
  place: string,
  blind: boolean,
  sure: boolean,
): Promise<{ id: string } | { waiting: SheetLines['open'] }> {
  const sheet = await get<SheetLines>(`/api/sheets?place=${place}`)
  if (sheet.open.length && !sure) return { waiting: sheet.open }
  const content: SlipContent = {
    ...freshContent('count', place),
    lines: sheet.lines.map(l =>
      freshLine({
        item: l.item,
        lot: l.lot ? { id: l.lot.id, code: l.lot.code ?? '', expiry: l.lot.expiry } : null,
        from: l.place,
      }),
    ),
  }
  content.head.blind = blind
  const id = v7()
  await call<DraftSaved>('PUT', `/api/slips/${id}`, { body: content })
  return { id }
}
/** Says that a count is booked, and when its area comes round again; then back to the list of areas. */
export async function sayBooked(
  booked: SlipView,
  lines: number,
  strip: ReturnType<typeof useStrip>,
  router: Router,
  f: ReturnType<typeof useFormat>,
): Promise<void> {
  const due = booked.place
    ? (
        await get<{ rows: CountArea[] }>(`/api/count-areas?place=${booked.place.id}`).catch(() => ({
          rows: [] as CountArea[],
        }))
      ).rows.find(a => a.id === booked.place!.id)?.due
    : undefined
  strip.say(
    `${booked.number} is booked: count of ${booked.title}, ${lines} line${lines === 1 ? '' : 's'}.${due ? ` Next due ${f.date(due)}.` : ''}`,
    'good',
    [{ label: 'Open it', run: () => void router.push({ name: 'slip', params: { id: booked.id } }) }],
  )
  await router.push({ name: 'count' })
}
