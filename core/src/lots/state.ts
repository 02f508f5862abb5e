import { dayAfter } from './day.ts'
import type { Quantity } from '../quantity/micro.ts'
import type { LotRule } from '../ledger/types.ts'

export type LotState = 'usable' | 'held' | 'expired' | 'recalled'

/** The state of a lot on a day (`2026-11-25`). A lot is usable on its expiry day, not after; *expired* is derived, never stored. */
export function lotState(lot: Pick<LotRule, 'held' | 'expiry'>, today: string): LotState {
  if (lot.held !== 'usable') return lot.held
  return lot.expiry !== null && lot.expiry < today ? 'expired' : 'usable'
}

/** What a lot is called of which nobody knows more than that it lies there: the label is gone (rule 27). */
export const UNKNOWN_LOT = 'unknown'
export const isUnknownLot = (code: string): boolean => code.trim().toLowerCase() === UNKNOWN_LOT

/** A lot as it lies in a place. `received` is the instant it first came; `opened` containers have a parent. */
export interface LotHere extends Pick<LotRule, 'held' | 'expiry'> {
  readonly id: number
  readonly quantity: Quantity
  readonly received: number
  readonly opened?: boolean
}
export interface LotTake {
  readonly lotId: number
  readonly quantity: Quantity
}

/**
 * Which lots to take: usable ones only, earliest expiry first (those without come last), then oldest received; an
 * opened container before its unopened siblings. `missing` is what they cannot give.
 */
export function proposeLots(
  here: readonly LotHere[],
  quantity: Quantity,
  today: string,
): { takes: LotTake[]; missing: Quantity } {
  const order = here.filter(l => l.quantity > 0n && lotState(l, today) === 'usable').sort(firstToGo)
  const takes: LotTake[] = []
  let missing = quantity
  for (const l of order) {
    if (missing <= 0n) break
    const x = l.quantity < missing ? l.quantity : missing
    takes.push({ lotId: l.id, quantity: x })
    missing -= x
  }
  return { takes, missing }
}

/**
 * The expiry of an opened container, a child of its lot: so many days from the day it was opened, but never later than
 * what stands on the package. Null where neither says anything.
 */
export function expiryOnceOpened(
  packaged: string | null,
  openedOn: string,
  daysOnceOpened: number | null,
): string | null {
  if (daysOnceOpened === null) return packaged
  const [year, month, day] = openedOn.split('-').map(Number) as [number, number, number]
  const own = dayAfter(year, month, day + daysOnceOpened)
  return packaged !== null && packaged < own ? packaged : own
}

/** First expired first out, then first received first out. */
export function firstToGo(a: Omit<LotHere, 'quantity'>, b: Omit<LotHere, 'quantity'>): number {
  const ea = a.expiry ?? '9999-12-31'
  const eb = b.expiry ?? '9999-12-31'
  if (ea !== eb) return ea < eb ? -1 : 1
  return Number(b.opened ?? false) - Number(a.opened ?? false) || a.received - b.received || a.id - b.id
}
