import { sql } from 'drizzle-orm'
import { type AnySQLiteColumn, customType } from 'drizzle-orm/sqlite-core'
import type { Quantity, Value } from '@shelve/core'

/**
 * Column types for a connection that hands out every integer as `bigint`. Quantities and values stay so; counters, ids
 * and instants become numbers, and only after a check that nothing is lost.
 */
const small = (v: bigint | number): number => {
  const n = Number(v)
  if (!Number.isSafeInteger(n)) throw new RangeError(`not a safe integer: ${v}`)
  return n
}

const micro = <T extends bigint>() =>
  customType<{ data: T; driverData: bigint }>({
    dataType: () => 'integer',
    // A placeholder hands null through here too: it stays null.
    toDriver: v => {
      if (v === null) return v
      if (typeof v !== 'bigint') throw new TypeError('bigint wanted')
      return v
    },
  })

/** Micro-units of an item's base unit. */
export const quantity = micro<Quantity>()

/** Micro-units of the currency. */
export const value = micro<Value>()

export const bigCount = micro<bigint>()

const toInt = (v: number): number => (v === null ? v : small(v))

export const int = customType<{ data: number; driverData: bigint | number }>({
  dataType: () => 'integer',
  toDriver: toInt,
  fromDriver: small,
})

export const rowid = customType<{ data: number; driverData: bigint | number; notNull: true; default: true }>({
  dataType: () => 'integer',
  toDriver: toInt,
  fromDriver: small,
})

export const bool = customType<{ data: boolean; driverData: bigint | number }>({
  dataType: () => 'integer',
  toDriver: v => (v === null ? v : v ? 1 : 0),
  fromDriver: v => Number(v) === 1,
})

/** An instant: milliseconds since 1970, UTC. */
export const instant = int

/**
 * The database. Rows are joined by small integers; whatever crosses the wire is named by `uid` (a UUID). All tables are
 * STRICT (in the migrations). Places, suppliers and waste reasons *are* accounts and share their number.
 */
export const one = (column: AnySQLiteColumn, of: readonly string[]) =>
  sql`${column} in (${sql.raw(of.map(k => `'${k}'`).join(', '))})`
