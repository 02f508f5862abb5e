import type { LevelsView, WorkingView } from '@shelve/contract'
import { formatDecimal, type Position, type Working } from '@shelve/core'
import { iso } from '../ground/index.ts'
import type { House } from './house.ts'

const told = (q: bigint | null): string | null => (q === null ? null : formatDecimal(q))

/** How an item stands in some places, as it is told. */
export const levelsView = ({ levels: l, ...p }: Position): LevelsView => ({
  onHand: formatDecimal(p.onHand),
  available: formatDecimal(l.available),
  reserved: formatDecimal(p.reserved),
  unusable: formatDecimal(p.unusable),
  coming: formatDecimal(p.coming),
  minimum: told(p.minimum),
  target: told(p.target),
  state: l.state,
  over: formatDecimal(l.over),
  bring: formatDecimal(l.bring),
  due: l.due,
  days: l.days,
})
/** What one costs there, as it is told: rounded once, for showing. */
export const costView = (p: Position): string | null => (p.cost ? formatDecimal(p.cost.one) : null)

/** The working of a figure, as it is told: each of its lines with the slip that it comes from. */
export function viewOf(house: House, title: string, unit: string, w: Working, note = ''): WorkingView {
  return {
    title,
    of: w.of,
    unit,
    figure: formatDecimal(w.figure),
    note,
    lines: w.lines.map(l => {
      const ofSlip = l.ref?.kind === 'slip'
      const s = ofSlip ? house.rows.slipById.get({ id: Number(l.ref!.id) }) : undefined
      return {
        label: l.label,
        amount: formatDecimal(l.amount),
        at: l.at === undefined ? null : iso(l.at),
        slip: s?.number ? { id: s.uid, number: s.number } : null,
        // One that has no number, or is not there yet, is the slip that is being written.
        note: l.note ?? (ofSlip && !s?.number ? 'this slip' : ''),
      }
    }),
  }
}
