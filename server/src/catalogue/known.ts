import type { Measure } from '@shelve/core'
import { changesItems, type Ground } from '../ground/index.ts'
import { type ItemRow, measureOf } from './measure.ts'
import type { Rows } from './rows.ts'

/**
 * What set-up says of items, kept in memory for the way of a booking: it changes only by set-up, which makes all of this
 * be read anew. Nothing here moves when something is booked.
 */
export class Known {
  readonly #rows: Rows
  readonly #byUid = new Map<string, ItemRow>()
  readonly #byId = new Map<number, ItemRow>()
  readonly #measures = new Map<number, Measure>()
  readonly #plainLots = new Map<number, number>()
  constructor(ground: Ground, rows: Rows) {
    this.#rows = rows
    ground.onSetUp(of => changesItems(of) && this.forget())
  }

  forget(): void {
    for (const m of [this.#byUid, this.#byId, this.#measures, this.#plainLots]) m.clear()
  }

  item(uid: string): ItemRow | undefined {
    return this.#keep(this.#byUid.get(uid) ?? this.#rows.item.get({ uid }))
  }
  itemById(id: number): ItemRow | undefined {
    return this.#keep(this.#byId.get(id) ?? this.#rows.itemById.get({ id }))
  }
  /** How quantities of an item are read. */
  measure(row: ItemRow): Measure {
    const kept = this.#measures.get(row.id) ?? measureOf(row, this.#rows.packs.all({ item: row.id }))
    this.#measures.set(row.id, kept)
    return kept
  }
  /**
   * How quantities of an item were read at an instant: by the packs that it had then (rule 54). A pack of another size is another
   * row of the same name, and the one before retired when it came.
   */
  measureThen(row: ItemRow, at: number): Measure {
    const packs = this.#rows.allPacks.all({ item: row.id }).filter(p => p.retiredAt === null || p.retiredAt > at)
    if (packs.every(p => p.retiredAt === null)) return this.measure(row)
    const called = (name: string) => packs.findIndex(p => p.name.toLowerCase() === name.toLowerCase())
    return measureOf(
      row,
      packs.filter((p, i) => called(p.name) === i),
    )
  }
  /** The one lot of an item that is kept without lots. */
  plainLot(itemId: number): number {
    const kept = this.#plainLots.get(itemId) ?? this.#rows.plainLot.get({ item: itemId })!.id
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
