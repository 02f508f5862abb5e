import type { ItemRule, Measure } from '@shelve/core'
import type { App } from '../app.ts'
import { measureOf, type ItemRow } from './service.ts'

/**
 * What set-up says of items, kept in memory for the way of a booking: it changes only by set-up, which makes all of this
 * be read anew. Nothing here moves when something is booked.
 */
export class Known {
  readonly #app: App
  readonly #byUid = new Map<string, ItemRow>()
  readonly #byId = new Map<number, ItemRow>()
  readonly #rules = new Map<number, ItemRule>()
  readonly #measures = new Map<number, Measure>()
  readonly #plainLots = new Map<number, number>()
  #costedSince: Map<number, { at: number; costSeq: number }> | undefined
  #latestTally: number | undefined
  constructor(app: App) {
    this.#app = app
  }

  forget(): void {
    this.#costedSince = undefined
    this.#latestTally = undefined
    for (const m of [this.#byUid, this.#byId, this.#rules, this.#measures, this.#plainLots]) m.clear()
  }

  item(uid: string): ItemRow | undefined {
    return this.#keep(this.#byUid.get(uid) ?? this.#app.ids.item.get({ uid }))
  }
  itemById(id: number): ItemRow | undefined {
    return this.#keep(this.#byId.get(id) ?? this.#app.ids.itemById.get({ id }))
  }
  /** What booking must know of an item, with when its cost method was last changed. */
  rule(id: number): ItemRule | undefined {
    const row = this.itemById(id)
    if (!row) return undefined
    const kept = this.#rules.get(id)
    if (kept) return kept
    // All at once: few items ever change their method, and asking for each would look through all pools.
    this.#costedSince ??= new Map(
      this.#app.ids.lastCostedBefore.all().map(r => [r.item, { at: r.at, costSeq: r.costSeq }]),
    )
    const rule = { ...row, costedSince: this.#costedSince.get(id) ?? null } as ItemRule
    this.#rules.set(id, rule)
    return rule
  }
  /** No tally was counted later than this (an instant; `-Infinity` where there is none): nearly all that is booked is later than any count. One that was taken back with its transaction may still be meant, never one less. */
  latestTally(): number {
    return (this.#latestTally ??= this.#app.ids.latestTally.get()!.at ?? -Infinity)
  }
  tallied(at: number): void {
    this.#latestTally = Math.max(this.latestTally(), at)
  }
  /** How quantities of an item are read. */
  measure(row: ItemRow): Measure {
    const kept = this.#measures.get(row.id) ?? measureOf(this.#app, row)
    this.#measures.set(row.id, kept)
    return kept
  }
  /** The one lot of an item that is kept without lots. */
  plainLot(itemId: number): number {
    const kept = this.#plainLots.get(itemId) ?? this.#app.ids.plainLot.get({ item: itemId })!.id
    this.#plainLots.set(itemId, kept)
    return kept
  }
  #keep(row: ItemRow | undefined): ItemRow | undefined {
    if (row) {
      this.#byUid.set(row.uid, row)
      this.#byId.set(row.id, row)
    }
    return row
  }
}
