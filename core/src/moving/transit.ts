import type { Lying, Placed } from '../position/facts.ts'
import { lotState } from '../lots/state.ts'
import { stillComing } from '../restocking/outstanding.ts'

/** Where what is on its way goes, and when it is to be there (`2026-11-27`); null: no day was said. */
export interface Way {
  readonly toId: number
  readonly dueOn: string | null
}
/** What comes to a place, on its day, and whether that still counts. */
export interface OnTheWay extends Placed {
  readonly day: string
  readonly counts: boolean
}

/**
 * What lies on the way comes to where it goes (rule 12): on its day, or today where none was said or the day is past; past
 * the organisation's patience it no longer counts. What may not be used when it is there does not come.
 */
export const onTheWay = (
  lying: readonly Lying[],
  wayOf: (placeId: number) => Way | undefined,
  { today, patienceDays }: { readonly today: string; readonly patienceDays: number },
): OnTheWay[] =>
  lying.flatMap(l => {
    const way = wayOf(l.placeId)
    if (!way || lotState(l, way.dueOn !== null && way.dueOn > today ? way.dueOn : today) !== 'usable') return []
    const due = way.dueOn ?? today
    return [
      {
        placeId: way.toId,
        quantity: l.quantity,
        day: due > today ? due : today,
        counts: stillComing(due, today, patienceDays),
      },
    ]
  })
