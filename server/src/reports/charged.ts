import type { Value } from '@shelve/core'
import { type House, lastCommitted } from '../ledger/index.ts'
import { startOfMonth } from './calendar.ts'

type OfCentre = readonly [centre: number, value: string]

/**
 * What each cost centre was charged in a year, as it stands at this very moment: what was committed is summed once and kept, what
 * was written since is added each time. The look back sums the same by month, piece by piece; a booking cannot wait for that.
 * All centres at once: each job that is new to one has an account of its own, and whose that is never changes.
 */
export class Charged {
  readonly #house: House
  readonly #known = new Map<string, { seq: number; sums: Map<number, Value> }>()
  readonly #committed

  readonly #statement

  constructor(house: House) {
    this.#house = house
    const side = (at: string, value: string) =>
      `select a.cost_centre_id as centre, ${value} as value from movement m join account a on a.id = m.${at}
       where m.seq > :after and m.seq <= :until and m.effective_at >= :from and m.effective_at < :to
         and a.cost_centre_id is not null`
    this.#statement = house.store.client
      .prepare<unknown[], OfCentre>(
        `select centre, cast(sum(value) as text) from (${side('to_id', 'm.value')} union all ${side('from_id', '-m.value')})
         group by centre`,
      )
      .safeIntegers(false)
      .raw()
    this.#committed = lastCommitted(house)
  }

  /** A centre by its number. */
  of(centre: number, year: number): Value {
    const key = `${year} ${this.#house.organisation!.zone}`
    let base = this.#known.get(key)
    if (!base) this.#known.set(key, (base = { seq: 0, sums: new Map<number, Value>() }))
    const bounds = [startOfMonth(this.#house, `${year}-01`), startOfMonth(this.#house, `${year + 1}-01`)] as const
    const committed = this.#committed()
    if (base.seq < committed) {
      for (const [c, value] of this.#sums(bounds, base.seq, committed))
        base.sums.set(c, (base.sums.get(c) ?? 0n) + BigInt(value))
      base.seq = committed
    }
    const written = this.#sums(bounds, base.seq, Number.MAX_SAFE_INTEGER).find(([c]) => c === centre)
    return (base.sums.get(centre) ?? 0n) + BigInt(written?.[1] ?? 0)
  }
  #sums([from, to]: readonly [number, number], after: number, until: number): OfCentre[] {
    return this.#statement.all({ from, to, after, until })
  }
}
