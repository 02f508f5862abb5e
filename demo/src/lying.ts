import { v7 } from 'uuid'
import { SlipContent } from '@shelve/contract'
import { beginRestock, markAsked, beginDraft, restockOf } from '@shelve/server'
import { ITEMS } from './catalogue.ts'
import { DAY, type Station } from './station.ts'

/** What is on its way, and what somebody is just writing down to ask for. */
export async function askFor(s: Station, now: number): Promise<void> {
  const { app } = s
  const ask = async (
    source: string,
    who: 'ines' | 'ruben',
    days: number,
    asked?: { where: string; number: string; expected: string },
    only?: string,
  ) => {
    s.clock.now = now - Math.min(days, 3) * DAY
    app.stock.forget()
    const { proposals } = await restockOf(app, s.caller(who), app.places.scope())
    const p = proposals.find(x => x.name === source)
    const wanted = p?.lines.filter(l => only === undefined || l.code === only).slice(0, 9) ?? []
    if (!p || !wanted.length) return
    const id = v7()
    app.change('restock', () =>
      beginRestock(app, s.caller(who), id, {
        source: p.source,
        note: '',
        lines: wanted.map(l => ({ id: v7(), item: l.item, place: l.place, typed: l.typed, unit: l.pack, why: l.why })),
      }),
    )
    const at = asked && days > 40 ? new Date(now - days * DAY).toISOString() : null
    if (asked) app.change('restock', () => markAsked(app, s.caller(who), id, { ...asked, at }))
  }
  const day = (n: number) => new Date(now + n * DAY).toISOString().slice(0, 10)
  // Written down three days ago, asked for long before, and nobody heard of it again.
  await ask('Tholebeck', 'ruben', 52, { where: 'by telephone', number: '', expected: day(-45) }, 'BLT-V')
  await ask('Sandquill', 'ines', 2, { where: 'by telephone', number: 'SM 4471', expected: day(8) })
  await ask('Bightfern', 'ruben', 1, { where: 'on their page', number: 'BF-20918', expected: day(8) })
  await ask('Ostrelith', 'ines', 0.1)
}

/** A slip that somebody began and left. */
export function leaveLying(s: Station, now: number): void {
  s.clock.now = now - 16 * 3_600_000
  const it = ITEMS.find(i => i.code === 'OIL-1030')!
  const content = SlipContent.parse({
    kind: 'issue',
    place: s.areas.get('Boat shed')!,
    taker: 'Bram',
    head: { job: s.jobs.get('Boat shed')![0]! },
    lines: [s.line(it, 2)],
  })
  s.app.store.client.transaction(() => beginDraft(s.app, s.caller('ruben'), v7(), content)).immediate()
}
