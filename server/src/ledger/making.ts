import { type AccountKind, type Booked, type CostMethod, emptyPool, type LotRule, type PoolState } from '@shelve/core'
import { createTransit, type Sent } from '../places/index.ts'
import type { House } from './house.ts'

interface MadeLot {
  readonly id: number
  readonly uid: string
  readonly itemId: number
  readonly code: string
  readonly expiry: string | null
  /** The pool of its own, where the item is costed by actual lot. */
  readonly poolId: number | null
  readonly opened: Opened | null
  /** Why it is held from the beginning; null: it may be used. */
  readonly heldFor: string | null
}
/** Of a container: the lot that it is opened of, when, and what it weighs empty, in grams, where that is known. */
export interface Opened {
  readonly parentId: number
  readonly at: number
  readonly tare: bigint | null
}
interface ChangedPools {
  readonly itemId: number
  readonly method: CostMethod
  readonly standard: bigint
  readonly pools: readonly { readonly id: number; readonly lotId: number | null }[]
}

/**
 * What a slip makes beside its movements: lots, suppliers, accounts of whoever uses, a place on the way, pools of another method. They get
 * their numbers ahead, so that the slip can be judged with them; they are written when it is booked, and never on trial.
 */
export class Making {
  readonly #house: House
  readonly #lots = new Map<number, MadeLot>()
  readonly #suppliers = new Map<number, { readonly id: number; readonly uid: string; readonly name: string }>()
  readonly #users = new Map<
    number,
    { readonly id: number; readonly jobId: number | null; readonly centreId: number | null; readonly name: string }
  >()
  readonly #transits = new Map<number, Sent & { readonly id: number; readonly uid: string }>()
  readonly #changed = new Map<number, ChangedPools>()
  readonly #next: Partial<Record<'account' | 'lot' | 'pool', number>> = {}

  constructor(house: House) {
    this.#house = house
  }

  /** The number that the next row of a table gets. */
  #number(of: 'account' | 'lot' | 'pool'): number {
    const next = this.#next[of] ?? this.#house.ledger.nextIds[of].get()!.id
    this.#next[of] = next + 1
    return next
  }

  supplier(name: string): number {
    const known = this.#house.rows.supplierByName.get({ name: name.trim() })
    if (known) return known.id
    for (const s of this.#suppliers.values()) if (s.name === name.trim()) return s.id
    const id = this.#number('account')
    this.#suppliers.set(id, { id, uid: this.#house.uid(), name: name.trim() })
    return id
  }
  /** The account of what a job or a cost centre uses. */
  user(jobId: number | null, centreId: number | null, name: string): number {
    const known = this.#house.ledger.userAccount.get({ jobId, centreId })
    if (known) return known.id
    for (const u of this.#users.values()) if (u.jobId === jobId && u.centreId === centreId) return u.id
    const id = this.#number('account')
    this.#users.set(id, { id, jobId, centreId, name })
    return id
  }
  /** The place where what a slip sends lies while it is on its way. */
  transit(sent: Sent): number {
    for (const t of this.#transits.values()) if (t.slipId === sent.slipId) return t.id
    const id = this.#number('account')
    this.#transits.set(id, { ...sent, id, uid: this.#house.uid() })
    return id
  }
  /** Whether a place is made by the slip itself. */
  makesPlace(id: number): boolean {
    return this.#transits.has(id)
  }
  /** A lot by its code, made by an earlier line of the same slip. */
  lotByCode(itemId: number, code: string): MadeLot | undefined {
    for (const l of this.#lots.values()) if (l.itemId === itemId && l.code === code && !l.opened) return l
    return undefined
  }
  /** Whether a container of a lot is called so: in the books, or by an earlier line of the same slip. */
  hasContainer(itemId: number, parentId: number, code: string): boolean {
    for (const l of this.#lots.values()) if (l.opened?.parentId === parentId && l.code === code) return true
    return this.#house.rows.containerByCode.get({ item: itemId, parent: parentId, code }) !== undefined
  }
  newLot(
    itemId: number,
    code: string,
    expiry: string | null,
    { opened, heldFor }: { readonly opened?: Opened; readonly heldFor?: string } = {},
  ): number {
    const id = this.#number('lot')
    const own = this.methodOf(itemId) === 'lot'
    this.#lots.set(id, {
      id,
      uid: this.#house.uid(),
      itemId,
      code,
      expiry,
      poolId: own ? this.#number('pool') : null,
      opened: opened ?? null,
      heldFor: heldFor ?? null,
    })
    return id
  }
  /** New pools take the place of an item's. */
  changePools(itemId: number, method: CostMethod, standard: bigint): void {
    const lots = method === 'lot' ? this.#house.rows.itemLots.all({ item: itemId }).map(l => l.id) : []
    this.#changed.set(itemId, {
      itemId,
      method,
      standard,
      pools: [null, ...lots].map(lotId => ({ id: this.#number('pool'), lotId })),
    })
  }

  /** The job that an account of whoever uses is of; null: none. */
  jobOf(id: number): number | null {
    return (this.#users.get(id) ?? this.#house.ledger.jobOfAccount.get({ id }))?.jobId ?? null
  }

  accountKind(id: number): AccountKind | undefined {
    if (this.#transits.has(id)) return 'place'
    return this.#suppliers.has(id) ? 'supplier' : this.#users.has(id) ? 'used' : undefined
  }
  lot(id: number): LotRule | undefined {
    const made = this.#lots.get(id)
    return (
      made && {
        id,
        itemId: made.itemId,
        code: made.code,
        expiry: made.expiry,
        held: made.heldFor === null ? 'usable' : 'held',
      }
    )
  }
  methodOf(itemId: number): CostMethod {
    return this.#changed.get(itemId)?.method ?? (this.#house.rows.wholePool.get({ item: itemId })!.method as CostMethod)
  }
  poolOf(itemId: number, lotId: number): number | undefined {
    const changed = this.#changed.get(itemId)
    if (changed) return changed.pools.find(p => p.lotId === (changed.method === 'lot' ? lotId : null))!.id
    return this.#lots.get(lotId)?.poolId ?? undefined
  }
  /** Whether new pools take the place of all that an item has. */
  replacesPools(itemId: number): boolean {
    return this.#changed.has(itemId)
  }
  /** A pool that is made: empty, and of what. */
  pool(id: number): (PoolState & { readonly itemId: number; readonly lotId: number | null }) | undefined {
    for (const c of this.#changed.values()) {
      const p = c.pools.find(x => x.id === id)
      if (p) return { ...emptyPool(c.method, c.standard), itemId: c.itemId, lotId: p.lotId }
    }
    for (const l of this.#lots.values())
      if (l.poolId === id) return { ...emptyPool('lot', 0n), itemId: l.itemId, lotId: l.id }
    return undefined
  }
  /** All pools that are made of an item. */
  poolsOf(itemId: number): number[] {
    return [
      ...(this.#changed.get(itemId)?.pools.map(p => p.id) ?? []),
      ...[...this.#lots.values()].flatMap(l => (l.itemId === itemId && l.poolId !== null ? [l.poolId] : [])),
    ]
  }

  /**
   * Writes it all, with the numbers it was judged by; `byId`: who books it. A lot is there since what is booked brought it, whenever that is
   * written: of two the one that came first goes first.
   */
  write({ movements }: Pick<Booked, 'movements'>, byId: number | null): void {
    const { rows, ledger } = this.#house
    const came = new Map<number, number>()
    for (const m of movements) came.set(m.lotId, Math.min(m.effectiveAt, came.get(m.lotId) ?? Infinity))
    for (const s of this.#suppliers.values()) {
      ledger.insertAccount.run({ id: s.id, kind: 'supplier', name: s.name, jobId: null, centreId: null })
      rows.insertSupplier.run(s)
    }
    for (const u of this.#users.values()) ledger.insertAccount.run({ ...u, kind: 'used' })
    for (const t of this.#transits.values()) createTransit(this.#house, t)
    for (const l of this.#lots.values()) {
      const { parentId = null, at = null, tare = null } = l.opened ?? {}
      ledger.insertLot.run({
        ...l,
        receivedAt: at ?? came.get(l.id) ?? this.#house.now(),
        parentId,
        openedAt: at,
        tare,
        held: l.heldFor === null ? 'usable' : 'held',
      })
      if (l.heldFor !== null && byId !== null)
        ledger.holdLot.run({ lotId: l.id, since: this.#house.now(), byId, why: l.heldFor })
      if (l.poolId !== null)
        ledger.insertPool.run({ id: l.poolId, item: l.itemId, lot: l.id, method: 'lot', standard: 0n })
    }
    for (const c of this.#changed.values()) {
      ledger.retirePools.run({ item: c.itemId })
      for (const p of c.pools)
        ledger.insertPool.run({ id: p.id, item: c.itemId, lot: p.lotId, method: c.method, standard: c.standard })
      ledger.stampMethod.run({ item: c.itemId, method: c.method })
    }
    // From here on they are in the books.
    for (const made of [this.#suppliers, this.#users, this.#transits, this.#lots, this.#changed]) made.clear()
  }
}
