import type { LevelsView } from '@shelve/contract'
import { formatDecimal, type Levels } from '@shelve/core'
import { isIn, type Scope } from '../rights/index.ts'
import type { Here, StockItem } from './stock.ts'

export const levelsView = (
  l: Levels,
  onHand: bigint,
  unusable: bigint,
  minimum: bigint | null,
  target: bigint | null,
): LevelsView => ({
  onHand: formatDecimal(onHand),
  available: formatDecimal(l.available.figure),
  reserved: '0',
  unusable: formatDecimal(unusable),
  coming: formatDecimal(l.position.figure - l.available.figure),
  minimum: minimum === null ? null : formatDecimal(minimum),
  target: target === null ? null : formatDecimal(target),
  state: l.state,
  over: formatDecimal(l.over),
  bring: formatDecimal(l.bring.figure),
  due: l.due,
  days: l.days,
})

/** The levels of an item in some places as they are told: minimum and target of several areas add up. */
export function levelsOf(it: StockItem, here: Here, scope: Scope) {
  const sum = (kind: 'minimum' | 'target') =>
    it.levels
      .filter(l => isIn(scope, l.placeId))
      .reduce<bigint | null>((s, l) => (l[kind] === null ? s : (s ?? 0n) + l[kind]), null)
  return levelsView(here.levels, here.onHand, here.onHand - here.levels.available.figure, sum('minimum'), sum('target'))
}
