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
  readonly #ground: Ground
  /** Items of which something was read within a transaction that may come to nothing. */
  readonly #doubtful = new Set<number>()
  constructor(ground: Ground, rows: Rows) {
    this.#ground = ground
    this.#rows = rows
    ground.onSetUp(of => changesItems(of) && this.forget())
    ground.onUndone(() => this.#undone())
  }

  forget(): void {
    for (const m of [this.#byUid, this.#byId, this.#measures, this.#plainLots, this.#doubtful]) m.clear()
  }
  #undone(): void {
    for (const id of this.#doubtful) {
      this.#byUid.delete(this.#byId.get(id)?.uid ?? '')
      for (const m of [this.#byId, this.#measures, this.#plainLots]) m.delete(id)
    }
    this.#doubtful.clear()
  }
  #read(id: number): void {
    if (this.#ground.writing) this.#doubtful.add(id)
  }

  item(uid: string): ItemRow | undefined {
    return this.#byUid.get(uid) ?? this.#keep(this.#rows.item.get({ uid }))
  }
  itemById(id: number): ItemRow | undefined {
    return this.#byId.get(id) ?? this.#keep(this.#rows.itemById.get({ id }))
  }
  /** How quantities of an item are read. */
  measure(row: ItemRow): Measure {
    const kept = this.#measures.get(row.id)
    if (kept) return kept
    const read = measureOf(row, this.#rows.packs.all({ item: row.id }))
    this.#measures.set(row.id, read)
    this.#read(row.id)
    return read
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
    const kept = this.#plainLots.get(itemId)
    if (kept !== undefined) return kept
    const { id } = this.#rows.plainLot.get({ item: itemId })!
    this.#plainLots.set(itemId, id)
    this.#read(itemId)
    return id
  }
  #keep(row: ItemRow | undefined): ItemRow | undefined {
    if (row) {
      this.#byUid.set(row.uid, row)
      this.#byId.set(row.id, row)
      this.#read(row.id)
    }
    return row
  }
}
