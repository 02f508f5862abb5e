import { once } from '../ground/index.ts'
import type { House } from './house.ts'

/** What of a difference is open on its account: positive where something is missing. */
export interface Open {
  readonly quantity: bigint
  readonly value: bigint
}
type Row = [tally: number, missing: string, value: string]

// The account of a difference bears the number of its tally with its sign turned.
const sums = (house: House, from: string) =>
  house.store.client
    .prepare<[number], Row>(
      `select m.tally_id, cast(sum(iif(m.to_id = -m.tally_id, m.quantity, iif(m.from_id = -m.tally_id, -m.quantity, 0))) as text),
        cast(sum(iif(m.to_id = -m.tally_id, m.value, iif(m.from_id = -m.tally_id, -m.value, 0))) as text)
      from movement m ${from} group by m.tally_id`,
    )
    .safeIntegers(false)
    .raw()

/** What of each difference of one slip is open. */
export function openOfSlip(house: House, slipId: number): ReadonlyMap<number, Open> {
  return new Map(
    slipSums(house)
      .all(slipId)
      .filter(([, missing]) => missing !== '0')
      .map(([tally, missing, value]) => [tally, { quantity: BigInt(missing), value: BigInt(value) }]),
  )
}
const slipSums = once((house: House) => sums(house, 'where m.tally_id in (select id from tally where slip_id = ?)'))

/** What of every difference is open by now, by its tally. */
export const openNow = (house: House): ReadonlyMap<number, Open> => differences(house).now()
const differences = once((house: House) => new Differences(house))

/**
 * The sums of all differences that were ever found, in memory: they are added up once, and then only what was written since. A
 * ledger is only added to.
 */
class Differences {
  readonly #house: House
  readonly #all
  readonly #since
  #seq = 0
  #open = new Map<number, Open>()
  constructor(house: House) {
    this.#house = house
    this.#all = sums(house, 'indexed by movement_tally where m.tally_id is not null and m.seq > ?')
    this.#since = sums(house, 'not indexed where m.tally_id is not null and m.seq > ?')
  }
  now(): ReadonlyMap<number, Open> {
    const { seq } = this.#house.ledger.lastSeq.get()!
    if (seq < this.#seq) {
      this.#seq = 0
      this.#open = new Map()
    }
    for (const [tally, missing, value] of this.#seq === 0
      ? this.#all.all(0)
      : seq > this.#seq
        ? this.#since.all(this.#seq)
        : []) {
      const was = this.#open.get(tally)
      const open = { quantity: (was?.quantity ?? 0n) + BigInt(missing), value: (was?.value ?? 0n) + BigInt(value) }
      if (open.quantity || open.value) this.#open.set(tally, open)
      else this.#open.delete(tally)
    }
    this.#seq = seq
    return this.#open
  }
}
