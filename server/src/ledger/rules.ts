import type { ItemRule } from '@shelve/core'
import type { Known } from '../catalogue/index.ts'
import { changesItems, type Ground } from '../ground/index.ts'
import type { Rows } from './rows.ts'

/** What booking must know of items and counts, kept in memory; forgotten with set-up. */
export class Rules {
  readonly #known: Known
  readonly #ledgerRows: Rows
  readonly #rules = new Map<number, ItemRule>()
  #costedSince: Map<number, { at: number; costSeq: number }> | undefined
  #latestTally: number | undefined
  readonly #ground: Ground
  /** Whether something was read within a transaction that may come to nothing. */
  #doubtful = false
  constructor(ground: Ground, known: Known, rows: Rows) {
    this.#known = known
    this.#ledgerRows = rows
    this.#ground = ground
    ground.onSetUp(of => changesItems(of) && this.forget())
    ground.onUndone(() => this.#doubtful && this.forget())
    // Whoever writes is told of each tally; what others write is looked up.
    if (ground.options.reads)
      ground.onMoved(() => {
        this.#latestTally = undefined
      })
  }
  forget(): void {
    this.#rules.clear()
    this.#doubtful = false
    this.#costedSince = undefined
    this.#latestTally = undefined
  }
  /** What booking must know of an item, with when its cost method was last changed. */
  rule(id: number): ItemRule | undefined {
    const row = this.#known.itemById(id)
    if (!row) return undefined
    const kept = this.#rules.get(id)
    if (kept) return kept
    // All at once: few items ever change their method, and asking for each would look through all pools.
    this.#costedSince ??= new Map(
      this.#ledgerRows.lastCostedBefore.all().map(r => [r.item, { at: r.at, costSeq: r.costSeq }]),
    )
    const rule = { ...row, costedSince: this.#costedSince.get(id) ?? null } as ItemRule
    this.#rules.set(id, rule)
    this.#doubtful ||= this.#ground.writing
    return rule
  }
  /**
   * No tally was counted later than this (an instant; `-Infinity` where there is none): nearly all that is booked is
   * later than any count. One that was taken back with its transaction may still be meant, never one less.
   */
  latestTally(): number {
    return (this.#latestTally ??= this.#ledgerRows.latestTally.get()!.at ?? -Infinity)
  }
  tallied(at: number): void {
    this.#latestTally = Math.max(this.latestTally(), at)
  }
}
