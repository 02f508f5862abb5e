import { asc } from 'drizzle-orm'
import type { Ground } from '../ground/index.ts'
import type { Scope } from '../rights/index.ts'
import { place, transit } from './tables.ts'

export type PlaceRow = typeof place.$inferSelect
export type TransitRow = typeof transit.$inferSelect

/** From what lies there nothing may be used: goods held, on the way, or with a job. */
export const NO_SHELF: PlaceRow['kind'][] = ['held', 'transit', 'with_job']
const EVERYWHERE: Scope = { key: '', within: undefined, name: 'everywhere' }

/** The tree of places in memory, read anew after every change of set-up. */
export class PlaceTree {
  readonly #ground: Ground
  #rows: Map<number, PlaceRow> | undefined
  #uids = new Map<string, number>()
  #order = new Map<number, number>()
  #within = new Map<number, ReadonlySet<number>>()
  #scopes = new Map<string, Scope>()
  #areas = new Map<number, number>()
  #transits = new Map<number, TransitRow>()
  #sent = new Map<number, number>()

  constructor(ground: Ground) {
    this.#ground = ground
    ground.onSetUp(of => (of === 'everything' || of === 'places') && this.forget())
  }

  forget(): void {
    this.#rows = undefined
  }

  get rows(): ReadonlyMap<number, PlaceRow> {
    if (!this.#rows) {
      const all = this.#ground.db.select().from(place).orderBy(asc(place.walk), asc(place.name)).all()
      this.#rows = new Map(all.map(p => [p.id, p]))
      this.#uids = new Map(all.map(p => [p.uid, p.id]))
      this.#within = new Map()
      this.#scopes = new Map()
      this.#areas = new Map()
      const sent = this.#ground.db.select().from(transit).all()
      this.#transits = new Map(sent.map(t => [t.placeId, t]))
      this.#sent = new Map(sent.map(t => [t.slipId, t.placeId]))
      this.#order = new Map()
      let n = 0
      const walk = (parent: number | null) => {
        for (const p of all)
          if (p.parentId === parent) {
            this.#order.set(p.id, n++)
            walk(p.id)
          }
      }
      walk(null)
    }
    return this.#rows
  }
  id(uid: string): number | undefined {
    void this.rows
    return this.#uids.get(uid)
  }
  row(id: number): PlaceRow | undefined {
    return this.rows.get(id)
  }
  /** Whether what lies in a place may be used from there. */
  isShelf(id: number): boolean {
    const kind = this.row(id)?.kind
    return kind !== undefined && !NO_SHELF.includes(kind)
  }
  /** Between which places something is on its way, of the place that it lies in meanwhile. */
  transit(id: number): TransitRow | undefined {
    void this.rows
    return this.#transits.get(id)
  }
  /** All that was ever sent, by the place on the way. */
  transits(): ReadonlyMap<number, TransitRow> {
    void this.rows
    return this.#transits
  }
  /** Where what a slip sent lies until it arrives. */
  sentBy(slipId: number): number | undefined {
    void this.rows
    return this.#sent.get(slipId)
  }
  /** Where a place comes on the walk through all places. */
  order(id: number): number {
    void this.rows
    return this.#order.get(id) ?? 0
  }

  /** The place and everything that lies in it. */
  within(id: number): ReadonlySet<number> {
    const rows = this.rows
    let set = this.#within.get(id)
    if (!set) {
      const found = new Set([id])
      for (const p of rows.values())
        for (let at: PlaceRow | undefined = p; at; at = at.parentId === null ? undefined : rows.get(at.parentId))
          if (at.id === id) found.add(p.id)
      this.#within.set(id, (set = found))
    }
    return set
  }
  /** Some places with all that lies in them, as one; without ids every place there is. */
  scope(ids?: readonly number[]): Scope {
    if (ids === undefined) return EVERYWHERE
    void this.rows
    const key = ids.length === 1 ? String(ids[0]) : [...ids].sort((a, b) => a - b).join('+') || 'nowhere'
    let scope = this.#scopes.get(key)
    if (!scope)
      this.#scopes.set(
        key,
        (scope = {
          key,
          within: ids.length === 1 ? this.within(ids[0]!) : new Set(ids.flatMap(id => [...this.within(id)])),
          name: ids.length === 1 ? this.name(ids[0]!) : ids.length ? 'my places' : 'nowhere',
        }),
      )
    return scope
  }
  /** What somebody with a right over some places reaches: those, and what is on its way from one of them or to one (rule 67). */
  reach(ids?: readonly number[]): Scope {
    const own = this.scope(ids)
    if (!own.within) return own
    const key = `reach ${own.key}`
    let scope = this.#scopes.get(key)
    if (!scope) {
      const ways = [...this.#transits.values()].filter(t => own.within!.has(t.fromId) || own.within!.has(t.toId))
      const within = ways.length ? new Set([...own.within, ...ways.map(t => t.placeId)]) : own.within
      this.#scopes.set(key, (scope = { ...own, key, within }))
    }
    return scope
  }
  /** The area a place belongs to: the nearest area or premises above it, or itself. */
  area(id: number): number {
    void this.rows
    let area = this.#areas.get(id)
    if (area === undefined) {
      let at = this.row(id)
      while (at && at.kind !== 'area' && at.kind !== 'premises' && at.parentId !== null) at = this.row(at.parentId)
      this.#areas.set(id, (area = at?.id ?? id))
    }
    return area
  }
  areas(): PlaceRow[] {
    return [...this.rows.values()]
      .filter(p => p.kind === 'area' && p.active)
      .sort((a, b) => this.order(a.id) - this.order(b.id))
  }
  /** `Wet lab, B3`: from the area down. */
  name(id: number): string {
    const at = this.row(id)
    if (!at) return '?'
    return at.kind === 'premises' || at.kind === 'area' || at.parentId === null
      ? at.name
      : `${this.name(at.parentId)}, ${at.name}`
  }
  /** The whole path, from the premises down, with `:` between. */
  path(id: number): string {
    const at = this.row(id)
    if (!at) return '?'
    return at.parentId === null ? at.name : `${this.path(at.parentId)}: ${at.name}`
  }
}
