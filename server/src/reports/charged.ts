import type { Value } from '@shelve/core'
import type { House } from '../ledger/index.ts'
import { startOfMonth } from './calendar.ts'

/**
 * What some accounts were charged in a year, as it stands at this very moment: what was committed is summed once and kept, what
 * was written since is added each time. The look back sums the same by month, piece by piece; a booking cannot wait for that.
 */
export class Charged {
  readonly #house: House
  readonly #known = new Map<string, { value: Value; seq: number }>()
  /** The last movement that is committed for sure: what is only being written may yet be undone. */
  #committed: number

  readonly #statement

  constructor(house: House) {
    this.#house = house
    this.#statement = house.store.client
      .prepare(
        `select coalesce(sum(case when to_id in (select value from json_each(:accounts)) then value else 0 end)
          - sum(case when from_id in (select value from json_each(:accounts)) then value else 0 end), 0)
        from movement where seq > :after and seq <= :until and effective_at >= :from and effective_at < :to`,
      )
      .pluck()
    this.#committed = this.#last()
    house.onMoved(() => {
      this.#committed = this.#last()
    })
  }
  #last(): number {
    return this.#house.ledger.lastSeq.get()!.seq
  }

  of(accounts: readonly number[], year: number): Value {
    const ids = JSON.stringify(accounts)
    const key = `${ids} ${year} ${this.#house.organisation!.zone}`
    const base = this.#known.get(key) ?? { value: 0n, seq: 0 }
    const bounds = [startOfMonth(this.#house, `${year}-01`), startOfMonth(this.#house, `${year + 1}-01`)] as const
    if (base.seq < this.#committed) {
      base.value += this.#sum(ids, bounds, base.seq, this.#committed)
      base.seq = this.#committed
      this.#known.set(key, base)
    }
    return base.value + this.#sum(ids, bounds, base.seq, Number.MAX_SAFE_INTEGER)
  }
  #sum(accounts: string, [from, to]: readonly [number, number], after: number, until: number): Value {
    return this.#statement.get({ accounts, from, to, after, until }) as bigint
  }
}
