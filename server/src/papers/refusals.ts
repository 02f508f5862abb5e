import type { RefusalView, SlipContent } from '@shelve/contract'
import type { Refusal } from '@shelve/core'
import { type Caller, isIn, reach } from '../rights/index.ts'
import type { House } from './house.ts'
import { maySee } from './view.ts'
import { wordRefusal } from './words.ts'

const unitOf =
  (house: House, content: SlipContent, lineIds: ReadonlyMap<string, number>) =>
  (lineId: string | null): string => {
    const line = content.lines.find(l => String(lineIds.get(l.id)) === lineId)
    return line?.item ? (house.known.item(line.item)?.unit ?? '') : ''
  }

/** Refusals in words, without what the caller may not see. */
export function worded(
  house: House,
  caller: Caller,
  content: SlipContent,
  { refusals, lineIds }: { readonly refusals: readonly Refusal[]; readonly lineIds: ReadonlyMap<string, number> },
): RefusalView[] {
  const uids = new Map([...lineIds].map(([uid, id]) => [String(id), uid]))
  const unit = unitOf(house, content, lineIds)
  return refusals.map(r => ({
    line: r.lineId === null ? null : (uids.get(r.lineId) ?? null),
    ...wordRefusal(house, withoutUnseen(house, caller, r), unit),
  }))
}

/** A refusal tells of other places and slips only where the caller may look. */
function withoutUnseen(house: House, caller: Caller, r: Refusal): Refusal {
  const seen = reach(house, caller)
  const { elsewhere, slip, ...rest } = r.detail as { elsewhere?: { place: number }[]; slip?: number }
  const of = typeof slip === 'number' ? house.rows.slipById.get({ id: slip }) : undefined
  return {
    ...r,
    detail: {
      ...rest,
      ...(Array.isArray(elsewhere) ? { elsewhere: elsewhere.filter(e => isIn(seen, e.place)) } : {}),
      ...(of && maySee(house, caller, of) ? { slip } : {}),
    },
  }
}
