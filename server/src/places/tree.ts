import { asc, gt, sql } from 'drizzle-orm'
import type { Ground } from '../ground/index.ts'
import type { Scope } from '../rights/index.ts'
import { place, transit } from './tables.ts'

export type PlaceRow = typeof place.$inferSelect
export type TransitRow = typeof transit.$inferSelect

/** From what lies there nothing may be used: goods held, on the way, or with a job. */
export const NO_SHELF: PlaceRow['kind'][] = ['held', 'transit', 'with_job']
/** Kinds of places that nobody sets up: they come with jobs and with what is sent. */
export const PASSING: PlaceRow['kind'][] = ['transit', 'with_job']
/** More than there are places. */
const AFTER_ALL = 2 ** 32
const EVERYWHERE: Scope = { key: '', within: undefined, roots: [], name: 'everywhere' }

/**
 * The tree of places in memory, read anew after a change of set-up. Jobs and what is sent add places to it all day long:
 * those are read beside what is there.
 */
export class PlaceTree {
  readonly #ground: Ground
  readonly #read
  #rows: Map<number, PlaceRow> | undefined
  readonly #uids = new Map<string, number>()
  readonly #children = new Map<number | null, PlaceRow[]>()
  readonly #walk = new Map<number, { readonly first: number; readonly last: number }>()
  readonly #transits = new Map<number, TransitRow>()
  readonly #sent = new Map<number, number>()
  readonly #within = new Map<number, ReadonlySet<number>>()
  readonly #shelves = new Map<number, readonly number[]>()
  readonly #scopes = new Map<string, Scope>()
  readonly #areas = new Map<number, number>()
  #inUse: readonly PlaceRow[] | undefined
  /** The last place that is there to stay, and those read since, which may go with their transaction. */
  #settled = 0
  #unsettled: PlaceRow[] = []
  #grows = false
  /** All of them were read, or are to be, within a transaction of which nobody knows how it ends. */
  #doubtful = false

  constructor(ground: Ground) {
    this.#ground = ground
    const after = sql.placeholder('after')
    this.#read = {
      places: ground.db
        .select()
        .from(place)
        .where(gt(place.id, after))
        .orderBy(asc(place.walk), asc(place.name))
        .prepare(),
      transits: ground.db.select().from(transit).where(gt(transit.placeId, after)).prepare(),
    }
    ground.onSetUp(of => {
      if (of === 'everything' || of === 'places') this.forget()
      else if (of === 'passing') this.#settle()
    })
    ground.onUndone(() => {
      if (this.#doubtful) this.forget()
      else if (this.#grows || this.#unsettled.length) this.#settle()
    })
  }

  /** Places are others than they were. */
  forget(): void {
    this.#rows = undefined
    this.#doubtful = this.#ground.writing
  }
  /** Within the running transaction a place was added that passes: where something lies with a job, or on its way. */
  grow(): void {
    this.#grows = true
  }

  get rows(): ReadonlyMap<number, PlaceRow> {
    if (!this.#rows) this.#load()
    else if (this.#grows) this.#readOn()
    return this.#rows!
  }
  #load(): void {
    this.#rows = new Map()
    for (const known of [this.#uids, this.#children, this.#walk, this.#transits, this.#sent]) known.clear()
    this.#settled = 0
    this.#unsettled = []
    this.#inUse = undefined
    this.#readOn()
    let n = 0
    const walk = (parent: number | null) => {
      for (const p of this.children(parent)) {
        if (PASSING.includes(p.kind)) continue
        const first = n++
        walk(p.id)
        this.#walk.set(p.id, { first, last: n - 1 })
      }
    }
    walk(null)
    if (!this.#ground.writing) this.#keep()
  }
  /** Reads what came after what is settled; what was read of that before is let go of. */
  #readOn(): void {
    this.#grows = false
    for (const p of this.#unsettled.toReversed()) this.#drop(p)
    const asked = { after: this.#settled }
    this.#unsettled = this.#read.places.all(asked)
    for (const p of this.#unsettled) {
      this.#rows!.set(p.id, p)
      this.#uids.set(p.uid, p.id)
      const siblings = this.#children.get(p.parentId)
      if (siblings) siblings.push(p)
      else this.#children.set(p.parentId, [p])
    }
    for (const t of this.#read.transits.all(asked)) {
      this.#transits.set(t.placeId, t)
      this.#sent.set(t.slipId, t.placeId)
    }
    for (const known of [this.#within, this.#shelves, this.#scopes, this.#areas]) known.clear()
  }
  #drop(p: PlaceRow): void {
    this.#rows!.delete(p.id)
    this.#uids.delete(p.uid)
    const siblings = this.#children.get(p.parentId)!
    siblings.splice(siblings.lastIndexOf(p), 1)
    this.#sent.delete(this.#transits.get(p.id)?.slipId ?? -1)
    this.#transits.delete(p.id)
  }
  /** What was added is there to stay by now, or gone. */
  #settle(): void {
    if (!this.#rows) return
    this.#readOn()
    this.#keep()
  }
  #keep(): void {
    this.#settled = this.#unsettled.reduce((last, p) => Math.max(last, p.id), this.#settled)
    this.#unsettled = []
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
  /** A place; of one where something lies with a job, the one that it stands in. */
  standing(id: number): number {
    const p = this.row(id)
    return p?.kind === 'with_job' ? p.parentId! : id
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
  /**
   * Where a place comes on the walk through all places: what lies with jobs after all else in its area, one job after the
   * other, and what is on its way behind everything.
   */
  order(id: number): number {
    const p = this.row(id)
    if (!p) return 0
    if (p.kind === 'transit') return AFTER_ALL + id
    return this.#walk.get(id)?.first ?? this.#walk.get(p.parentId!)!.last + id / AFTER_ALL
  }
  /** What lies in a place itself, in the order of the walk; without a place what lies in none. */
  children(id: number | null): readonly PlaceRow[] {
    void this.rows
    return this.#children.get(id) ?? []
  }

  /** The places that a place lies in, the nearest first. */
  above(id: number): number[] {
    const up = this.row(id)?.parentId ?? null
    return up === null ? [] : [up, ...this.above(up)]
  }
  /** What leads to some places: all that they lie in. */
  leadingTo({ roots }: Scope): ReadonlySet<number> {
    return new Set(roots.flatMap(id => this.above(id)))
  }
  /** The place and everything that lies in it. */
  within(id: number): ReadonlySet<number> {
    void this.rows
    let set = this.#within.get(id)
    if (!set) {
      const found = new Set([id])
      // A set is gone through in the order in which it grows.
      for (const at of found) for (const p of this.children(at)) found.add(p.id)
      this.#within.set(id, (set = found))
    }
    return set
  }
  /** Of the same those that are shelves. */
  shelves(id: number): readonly number[] {
    void this.rows
    let list = this.#shelves.get(id)
    if (!list) this.#shelves.set(id, (list = [...this.within(id)].filter(p => this.isShelf(p))))
    return list
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
          roots: ids,
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
      const places = ways.map(t => t.placeId)
      const within = places.length ? new Set([...own.within, ...places]) : own.within
      this.#scopes.set(key, (scope = { ...own, key, within, roots: [...own.roots, ...places] }))
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
  /** The areas that are in use, in the order of the walk. */
  areas(): readonly PlaceRow[] {
    void this.rows
    return (this.#inUse ??= [...this.#walk.keys()].map(id => this.row(id)!).filter(p => p.kind === 'area' && p.active))
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
