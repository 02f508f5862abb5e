import type { LevelsView } from '@shelve/contract'
import { formatDecimal, type Position } from '@shelve/core'

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
