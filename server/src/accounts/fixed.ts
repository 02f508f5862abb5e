import { eq } from 'drizzle-orm'
import type { Ground } from '../ground/index.ts'
import { account } from './tables.ts'

const KINDS = ['stock', 'price_difference', 'loss', 'gain', 'opening', 'made', 'relabel'] as const

/** The accounts that every organisation has one of, looked up when first asked for. */
export class FixedAccounts {
  readonly #ground: Ground
  readonly #known = new Map<string, number>()
  constructor(ground: Ground) {
    this.#ground = ground
  }
  #id(kind: (typeof KINDS)[number]): number {
    let id = this.#known.get(kind)
    if (id === undefined) {
      id = this.#ground.db.select({ id: account.id }).from(account).where(eq(account.kind, kind)).get()!.id
      this.#known.set(kind, id)
    }
    return id
  }
  get stock(): number {
    return this.#id('stock')
  }
  get priceDifference(): number {
    return this.#id('price_difference')
  }
  get loss(): number {
    return this.#id('loss')
  }
  get gain(): number {
    return this.#id('gain')
  }
  get opening(): number {
    return this.#id('opening')
  }
  get made(): number {
    return this.#id('made')
  }
  get relabel(): number {
    return this.#id('relabel')
  }
}

/** Opens them, when an organisation begins. */
export function openFixedAccounts(ground: Ground): void {
  for (const kind of KINDS) ground.db.insert(account).values({ kind, name: kind }).run()
}
