import { workOut, type Working } from '@shelve/core'
import { isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'

/**
 * What is on its way to some places or from them: how many things, what they are worth, and each transfer's share of that.
 * Null: nothing is.
 */
export function onTheWay(house: House, scope: Scope): { readonly things: number; readonly worth: Working } | null {
  const ways = new Map(
    [...house.places.transits().values()]
      .filter(t => isIn(scope, t.fromId) || isIn(scope, t.toId))
      .map(t => [t.placeId, { ...t, things: 0, value: 0n }]),
  )
  if (!ways.size) return null
  let things = 0
  for (const it of house.stock.all().values()) {
    const own = it.leaves.filter(l => ways.has(l.placeId))
    if (own.length) things++
    for (const l of own) ways.get(l.placeId)!.value += l.value
    for (const placeId of new Set(own.map(l => l.placeId))) ways.get(placeId)!.things++
  }
  if (!things) return null
  const lines = [...ways.values()]
    .filter(t => t.things)
    .sort((a, b) => a.slipId - b.slipId)
    .map(t => ({
      label: 'sent',
      amount: t.value,
      ref: { kind: 'slip' as const, id: t.slipId },
      note: `from ${house.places.name(t.fromId)} to ${house.places.name(t.toId)}, ${t.things} thing${t.things === 1 ? '' : 's'}`,
    }))
  return { things, worth: workOut('value', lines) }
}
