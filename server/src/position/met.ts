import { type Met, meetNeeds } from '@shelve/core'
import type { StockItem } from './item.ts'

/**
 * How the needs of an item can be met, with all that jobs want of it and all that is on its way; `seen` tells the places that
 * may be spoken of, `but` a job whose output is not reckoned with.
 */
export function metOf(it: StockItem, seen?: (place: number) => boolean, but?: number): Map<number, Met> {
  const { needs, reservations, made } = it.demand
  const coming = [
    ...it.owed.filter(o => o.counts),
    ...it.sent.filter(s => s.counts),
    ...made.filter(m => m.counts && m.jobId !== but),
  ]
  return meetNeeds(needs, reservations, coming, it.shelves, seen)
}
