import type { SlipLine } from '@shelve/contract'
import { type DraftLine, formatDecimal } from '@shelve/core'
import { type Kind, outward, type Reading } from '../papers/index.ts'

/** What leaves for another place and travels, and what of it arrives: a place of its own between the two (rule 67). */
export const sent: readonly Kind[] = [
  {
    kind: 'dispatch',
    prefix: 'DP',
    makesPlaces: true,
    title: ({ house, content, first }) => {
      const to = content.head.towards === null ? undefined : house.places.id(content.head.towards)
      return to === undefined ? first : `to ${house.places.name(to)}`
    },
    lines: (r, line) => {
      const to = wayOf(r)
      return to === undefined ? [] : r.moved(line, (item, quantity) => outward(r, line, item, quantity, to))
    },
  },
  {
    kind: 'arrival',
    prefix: 'AR',
    title: ({ house, content }) => {
      const slip = content.head.sent === null ? undefined : house.rows.slip.get({ uid: content.head.sent })
      const way = slip && house.places.transit(house.places.sentBy(slip.id) ?? -1)
      return way ? `from ${house.places.name(way.fromId)}` : 'what was sent'
    },
    lines: arrived,
    end: r => {
      if (!r.lines.length && !r.refusals.length) r.no(null, 'nothing_arrived', 'lines')
    },
  },
]

/** Where what a slip sends lies while it is on its way: of a slip that is corrected, the place that it has. */
function wayOf(r: Reading): number | undefined {
  if (r.target) return r.house.places.sentBy(r.target.id)
  const { towards, due } = r.content.head
  const from = r.area()
  const to = towards === null ? undefined : r.house.places.id(towards)
  if (from === undefined) return void r.once('place_needed', 'place')
  if (to === undefined) return void r.once('where_to', 'towards')
  if (!r.house.places.isShelf(to)) return void r.once('no_goal', 'towards', { place: to })
  if (r.house.places.within(from).has(to) || r.house.places.within(to).has(from))
    return void r.once('not_away', 'towards', { place: to })
  if (due !== null && due < r.house.today(r.at())) return void r.once('due_before', 'due')
  return r.books.making.transit({ slipId: r.slipId, fromId: from, toId: to, dueOn: due })
}

/** What came of a line; what nobody says anything of stays on the way. */
function arrived(r: Reading, line: SlipLine): DraftLine[] {
  if (line.asked && !line.typed.trim()) return []
  const uid = r.target ? sentOf(r.target.head) : r.content.head.sent
  const slip = uid === null ? undefined : r.house.rows.slip.get({ uid })
  const from = slip && r.house.places.sentBy(slip.id)
  if (from === undefined) return (r.once('not_sent', 'sent'), [])
  return r.moved(line, (item, quantity) => {
    const to = r.into(line, item)
    if (to === undefined) return []
    const short = (missing: bigint) =>
      r.no(line, 'not_on_the_way', 'typed', { left: formatDecimal(quantity - missing), number: slip!.number })
    return outward(r, line, item, quantity, to, { from, short })
  })
}
const sentOf = (head: string): string | null => (JSON.parse(head) as { head?: { sent?: string } }).head?.sent ?? null
