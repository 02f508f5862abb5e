import {
  answers,
  type Booked,
  type Books,
  emptyPool,
  foldFacts,
  type LotRule,
  type Movement,
  type PoolState,
  type Tally,
} from '@shelve/core'
import { remember } from '../ground/index.ts'
import type { House } from './house.ts'
import { Making } from './making.ts'
import { Memory } from './memory.ts'
import type { LotCell } from './reader.ts'
import { chargesHolding, type LedgerStatements } from './statements.ts'

const pair = (value: bigint | null, quantity: bigint | null) =>
  value === null || quantity === null ? null : { value, quantity }

/**
 * The books in the database, for one slip: what was read is remembered until it is written. A new one for every slip, so
 * that nothing read outlives the transaction it was read in.
 */
export class SqlBooks implements Books {
  readonly making: Making
  readonly #read = new Map<number, PoolState>()
  #openFrom: number | undefined

  constructor(
    readonly house: House,
    readonly memory = new Memory(),
  ) {
    this.st = house.ledger
    this.making = new Making(house)
  }
  readonly st: LedgerStatements

  nextSeq() {
    return this.st.lastSeq.get()!.seq + 1
  }
  accountKind(id: number) {
    if (id < 0) return 'difference'
    // Asked some ten times of each line.
    const known = this.memory.kinds.get(id) ?? this.making.accountKind(id)
    if (known) return known
    return remember(
      this.memory.kinds,
      id,
      () => this.st.accountKind.get({ id })?.kind as ReturnType<Books['accountKind']>,
    )
  }
  item(id: number) {
    return this.house.rules.rule(id)
  }
  lot(id: number) {
    const made = this.making.lot(id)
    if (made) return made
    return remember(this.memory.lots, id, () => this.st.lot.get({ id }) as LotRule | undefined)
  }
  /** A lot as it is told of; one that is only going to be made has no name yet. */
  lotTold(id: number): { readonly uid: string | null; readonly code: string | null; readonly expiry: string | null } {
    const made = this.making.lot(id)
    if (made) return { ...made, uid: null }
    return this.memory.recall(`lot ${id}`, () => this.house.rows.lotById.get({ id })!)
  }
  poolOf(itemId: number, lotId: number) {
    const made = this.making.poolOf(itemId, lotId)
    if (made !== undefined) return made
    return remember(this.memory.pools, `${itemId}.${lotId}`, () => {
      const whole = this.st.itemPool({ item: itemId })
      if (whole && whole.method !== 'lot') {
        this.memory.rows.set(whole.id, whole)
        return whole.id
      }
      const own = this.st.lotPool.get({ item: itemId, lot: lotId })
      if (!own) throw new Error(`lot ${lotId} of item ${itemId} has no pool`)
      return own.id
    })
  }
  pool(id: number): PoolState {
    const made = this.making.pool(id)
    if (made) return made
    const row = remember(this.memory.rows, id, () => this.st.pool({ id })!)
    const state: PoolState = {
      method: row.method,
      quantity: row.quantity,
      value: row.value,
      standard: row.standard,
      tainted: row.tainted,
      lastOut: pair(row.lastOutValue, row.lastOutQuantity),
      lastReceipt: pair(row.lastReceiptValue, row.lastReceiptQuantity),
      layers:
        row.method === 'fifo' ? this.memory.recall(`layers ${id}`, () => this.st.layers(id)).map(l => ({ ...l })) : [],
    }
    this.#read.set(id, { ...state, layers: state.layers.map(l => ({ ...l })) })
    return state
  }
  poolStart(id: number): PoolState {
    const made = this.making.pool(id)
    if (made) return made
    const row = remember(this.memory.rows, id, () => this.st.pool({ id })!)
    return emptyPool(row.method, row.firstStandard)
  }
  poolMovements(id: number) {
    return this.memory.recall(`pool ${id}`, () => this.st.poolMovements({ id }))
  }
  movementsAt(costSeq: number) {
    return this.memory.recall(`at ${costSeq}`, () => this.st.movementsAt({ costSeq }))
  }
  unpriced(poolId: number) {
    return this.memory.recall(
      `unpriced ${poolId}`,
      () => new Set(this.st.unpriced.all({ pool: poolId }).map(u => `${u.costSeq}.${u.part}`)),
    )
  }
  balance(item: number, lot: number, place: number) {
    return (
      this.memory.cells.get(item)?.find(c => c.lotId === lot && c.placeId === place) ??
      this.memory.recall(`balance ${item} ${lot} ${place}`, () => this.st.balance.get({ item, lot, place })) ?? {
        quantity: 0n,
        lastEffectiveAt: -Infinity,
      }
    )
  }
  cellMovements(item: number, lot: number, place: number) {
    const cell = { item, lot, place }
    return this.memory.recall(`cell ${item} ${lot} ${place}`, () =>
      [...this.st.cellFrom(cell), ...this.st.cellTo(cell)].sort((a, b) => a.seq - b.seq),
    )
  }
  /** What lies of an item, read once for the slip, with its lots; not where nothing lies any more. */
  lotBalances(item: number): readonly LotCell[] {
    return remember(this.memory.cells, item, () => {
      const cells = this.st.cells(item)
      for (const c of cells) this.memory.lots.set(c.lotId, c.lot)
      return cells
    })
  }
  tallies(item: number, lot: number, place: number) {
    return this.memory.recall(
      `tallies ${item} ${lot} ${place}`,
      () => this.st.tallies.all({ item, lot, place }) as Tally[],
    )
  }
  hasTallyFrom(item: number, lot: number, place: number, at: number) {
    return (
      Math.floor(at) <= this.house.rules.latestTally() &&
      this.memory.recall(
        `tallied ${item} ${lot} ${place} ${Math.floor(at)}`,
        () => this.st.tallyFrom.get({ item, lot, place, at: Math.floor(at) }) !== undefined,
      )
    )
  }
  tally(id: number) {
    return this.memory.recall(`tally ${id}`, () => this.st.tally.get({ id }) as Tally | undefined)
  }
  tallyMovements(tally: number) {
    return this.memory.recall(`of tally ${tally}`, () => this.st.ofTally({ tally }))
  }
  broughtBack(key: { costSeq: number; part: number }) {
    const { costSeq, part } = key
    const backs = this.memory.recall(`backs ${costSeq} ${part}`, () => this.st.backs({ costSeq, part }))
    return foldFacts(backs, () => false).reduce((sum, f) => sum + f.quantity, 0n)
  }
  delivery(costSeq: number) {
    const slip = this.st.slipOf.get({ seq: costSeq })
    if (!slip) return undefined
    const charges = chargesHolding(this.st, slip.slipId)
    return { slipId: slip.slipId, charges, costSeqs: this.st.costSeqsOf.all({ slip: slip.slipId }).map(r => r.seq) }
  }
  openFrom() {
    return (this.#openFrom ??= this.st.openFrom.get()!.at)
  }

  /**
   * Writes what booking made. What the slip makes beside, and its tallies, are written before by the caller, who knows
   * their lines.
   */
  write(booked: Booked): void {
    const { st } = this
    const cells = new Map<string, { item: number; lot: number; place: number; quantity: bigint; at: number }>()
    const differences = new Set<number>()
    for (const m of booked.movements) {
      for (const id of [m.from, m.to])
        if (this.accountKind(id) === 'difference' && !differences.has(id)) {
          differences.add(id)
          st.insertDifference.run({ id, name: this.house.known.itemById(m.itemId)!.code })
        }
      st.insertMovement.run(m)
      if (m.quantity === 0n) continue
      for (const [place, quantity] of [
        [m.from, -m.quantity],
        [m.to, m.quantity],
      ] as const) {
        if (this.accountKind(place) !== 'place') continue
        const key = `${m.itemId}.${m.lotId}.${place}`
        const c = cells.get(key)
        if (c) {
          c.quantity += quantity
          c.at = Math.max(c.at, m.effectiveAt)
        } else cells.set(key, { item: m.itemId, lot: m.lotId, place, quantity, at: m.effectiveAt })
      }
    }
    for (const c of cells.values()) st.upsertBalance.run(c)
    // What was read is no longer so.
    this.memory.cells.clear()
    for (const tally of booked.reversedTallies) st.reverseTally.run({ tally, slip: booked.movements[0]!.slipId })
    for (const [id, state] of booked.pools) this.#writePool(id, state)
    for (const { unpriced, ...of } of booked.unpriced) st[unpriced ? 'insertUnpriced' : 'deleteUnpriced'].run(of)
  }

  #writePool(id: number, state: PoolState): void {
    // What was read of it is no longer so: whoever asks afterwards reads it as it is now.
    this.memory.rows.delete(id)
    this.st.updatePool.run({
      id,
      quantity: state.quantity,
      value: state.value,
      standard: state.standard,
      tainted: state.tainted ? 1 : 0,
      lastOutValue: state.lastOut?.value ?? null,
      lastOutQuantity: state.lastOut?.quantity ?? null,
      lastReceiptValue: state.lastReceipt?.value ?? null,
      lastReceiptQuantity: state.lastReceipt?.quantity ?? null,
    })
    if (state.method !== 'fifo') return
    const before = new Map((this.#read.get(id)?.layers ?? this.st.layers(id)).map(l => [`${l.costSeq}.${l.part}`, l]))
    for (const l of state.layers) {
      const was = before.get(`${l.costSeq}.${l.part}`)
      before.delete(`${l.costSeq}.${l.part}`)
      if (!was || was.quantity !== l.quantity || was.value !== l.value) this.st.upsertLayer.run({ pool: id, ...l })
    }
    for (const l of before.values()) this.st.deleteLayer.run({ pool: id, costSeq: l.costSeq, part: l.part })
  }
}

/** A row as the core knows it: lines are named by text there. */
export const toMovement = ({
  needId,
  jobId,
  ...row
}: Omit<Movement, 'lineId' | 'kind' | 'ord' | 'invoice' | 'needId' | 'jobId'> & {
  lineId: number
  kind: string
  ord: number
  invoice: string | null
  needId: number | null
  jobId: number | null
}): Movement => ({ ...row, lineId: String(row.lineId), ...answers({ needId, jobId }) }) as Movement
