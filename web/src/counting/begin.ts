import type { Router } from 'vue-router'
import type { BookedSlip, CountArea, DraftSaved, LotView, SlipContent } from '@shelve/contract'
import { call, get, query } from '../shell/api.ts'
import type { useStrip } from '../shell/strip.ts'
import { freshContent, freshLine } from '../ledger/fresh.ts'
import { v7 } from '../shell/uuid.ts'
import { useFormat } from '../ui/format.ts'

interface SheetLines {
  lines: { item: string; lot: { id: string; code: string | null; expiry: string | null } | null; place: string }[]
  open: { id: string; title: string; by: string }[]
}
/**
 * The one place in an area where an item lies, by its id: what joins a sheet by a scan is counted there. None where it lies in
 * several or nowhere, or nobody can be asked.
 */
export async function liesIn(item: string, area: string | null): Promise<string | undefined> {
  try {
    const { rows } = await get<{ rows: LotView[] }>(`/api/items/${item}/lots${query({ place: area })}`)
    const places = new Set(rows.flatMap(l => l.places.filter(p => p.quantity !== '0').map(p => p.place)))
    return places.size === 1 ? [...places][0] : undefined
  } catch {
    return undefined
  }
}

/** What a sheet is made of, and how it is counted. */
export interface SheetWanted {
  readonly place: string
  readonly group: string | null
  /** The count of which it holds what was left. */ readonly rest: string | null
  readonly blind: boolean
  readonly byTwo: boolean
}
/**
 * Makes a sheet of an area, of a group of items, or of what a count left: a draft with a line for everything that should
 * be there. Slips not booked yet are told first, unless `sure`.
 */
export async function beginSheet(
  { place, group, rest, blind, byTwo }: SheetWanted,
  sure: boolean,
): Promise<{ id: string } | { waiting: SheetLines['open'] }> {
  const sheet = await get<SheetLines>(`/api/sheets${query({ place, group, rest })}`)
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
  Object.assign(content.head, { blind, byTwo, group, rest })
  const id = v7()
  await call<DraftSaved>('PUT', `/api/slips/${id}`, { body: content })
  return { id }
}
/** Says that a count is booked, what it left, and when it comes round again. */
export async function sayBooked(
  booked: BookedSlip,
  lines: number,
  group: string | null,
  strip: ReturnType<typeof useStrip>,
  router: Router,
  f: ReturnType<typeof useFormat>,
): Promise<void> {
  const own = booked.place
    ? (
        await get<{ rows: CountArea[] }>(`/api/count-areas?place=${booked.place.id}`).catch(() => ({
          rows: [] as CountArea[],
        }))
      ).rows.find(a => a.id === booked.place!.id && (a.group?.id ?? null) === group)
    : undefined
  const left = own?.lastSlip?.id === booked.id ? own.left : 0
  const next = !own?.due ? '' : left ? ` It stays due: ${f.date(own.due)}.` : ` Next due ${f.date(own.due)}.`
  const more = left ? ` ${left} more ${left === 1 ? 'is' : 'are'} left.` : ''
  strip.say(
    `${booked.number} is booked: count of ${booked.title}, ${lines} line${lines === 1 ? '' : 's'}.${more}${next}`,
    'good',
    [{ label: 'Open it', run: () => void router.push({ name: 'slip', params: { id: booked.id } }) }],
  )
}
