import { v7 } from 'uuid'
import { isCounted, SlipContent } from '@shelve/contract'
import { notFound, Refused } from '../ground/index.ts'
import { contentOf } from './drafts.ts'
import type { House } from './house.ts'

/** The correction that takes a booked slip back, whole or by lines. Its line ids follow from the slip's, so that asking twice is one slip. */
export function reversalContent(
  house: House,
  uid: string,
  body: { id: string; lines: string[] | null; why: string },
): SlipContent {
  const target = house.rows.slip.get({ uid })
  if (!target) throw notFound('slip')
  if (target.state !== 'booked')
    throw new Refused(409, 'not_booked', 'This slip is not booked yet: there is nothing to take back.')
  const earlier = house.rows.slip.get({ uid: body.id })
  const known = earlier ? contentOf(house, earlier).lines : []
  const content = contentOf(house, target)
  const lines = content.lines
    .filter(l => body.lines === null || body.lines.includes(l.id))
    .filter(l => content.kind !== 'count' || isCounted(l))
    // What was awaited and nobody took, or has not come, moved nothing.
    .filter(l => !l.asked || l.typed.trim() !== '')
  if (!lines.length) throw new Refused(422, 'unknown_line', 'None of these lines stands on that slip.')
  return SlipContent.parse({
    kind: 'correction',
    place: content.place,
    head: { corrects: uid, note: body.why },
    lines: lines.map(l => ({
      id: known.find(k => k.ref === l.id)?.id ?? v7(),
      ref: l.id,
      act: 'take_back',
      item: l.item,
    })),
  })
}
