import { type Caller, type Finders, reach } from '../rights/index.ts'
import { contentOf, type SlipRecord } from './drafts.ts'
import type { House } from './house.ts'
import { pictureBy, picturesIn } from './pictures.ts'
import { maySee } from './view.ts'

/** Whether somebody may write on a draft: where it is written, they may book; one of no place yet is its writer's. */
export function mayWrite(house: House, caller: Caller, draft: Pick<SlipRecord, 'placeId' | 'createdBy'>): boolean {
  const { within } = reach(house, caller, 'book')
  if (!caller.may.has('book')) return false
  if (draft.placeId === null) return draft.createdBy === caller.id || !within
  return !within || within.has(draft.placeId)
}

/** Slips, what stands on them, and the pictures they show. */
export const finders = (house: House): Finders => ({
  slip: (uid, caller) => {
    const row = house.rows.slip.get({ uid })
    return row !== undefined && maySee(house, caller, row)
  },
  draft: (uid, caller) => {
    const row = house.rows.slip.get({ uid })
    if (!row) return true
    return row.state === 'booked' ? maySee(house, caller, row) : mayWrite(house, caller, row)
  },
  line: (uid, caller) => {
    const line = house.rows.line.get({ uid })
    const row = line && house.rows.slipById.get({ id: line.slipId })
    return row !== undefined && maySee(house, caller, row)
  },
  // A picture is seen on a slip that shows it. Naming it on one of one's own is no way to see it.
  picture: (uid, caller, { slip }) => {
    if (pictureBy(house, uid) === caller.id) return true
    const row = slip === undefined ? undefined : house.rows.slip.get({ uid: slip })
    return row !== undefined && maySee(house, caller, row) && picturesIn(contentOf(house, row)).includes(uid)
  },
})
