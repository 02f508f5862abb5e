import { eq } from 'drizzle-orm'
import { account } from '../accounts/index.ts'
import type { House } from './house.ts'
import { place, placeWithin, transit } from './tables.ts'

/** What is sent between two places: the slip that sends it (by its number), and the day on which it is to be there. */
export interface Sent {
  readonly slipId: number
  readonly fromId: number
  readonly toId: number
  readonly dueOn: string | null
}

/**
 * A place on the way, under a number that was given ahead. It lies in no other place: what is on its way is neither here nor
 * there. Until its slip has a number it is called by the place's own.
 */
export function createTransit(house: House, { id, uid, ...sent }: Sent & { id: number; uid: string }): void {
  house.db.insert(account).values({ id, kind: 'place', name: uid }).run()
  house.db
    .insert(place)
    .values({
      id,
      uid,
      parentId: null,
      kind: 'transit',
      name: uid,
      walk: AFTER_ALL,
      active: true,
      revision: 1,
      openShelf: false,
    })
    .run()
  house.db.insert(placeWithin).values({ ancestorId: id, placeId: id }).run()
  house.db
    .insert(transit)
    .values({ placeId: id, ...sent })
    .run()
  house.places.grow()
}
/** On the walk through all places, what is on its way comes behind them. */
const AFTER_ALL = 1_000_000

/** What is on its way is called by the slip that sent it, within the transaction that sends it. */
export function nameTransit(house: House, id: number, number: string): void {
  const name = `On the way, ${number}`
  house.db.update(account).set({ name }).where(eq(account.id, id)).run()
  house.db.update(place).set({ name }).where(eq(place.id, id)).run()
  house.places.grow()
}

/** It is to be there on another day than was said. */
export function dueAnew(house: House, id: number, dueOn: string | null): void {
  house.db.update(transit).set({ dueOn }).where(eq(transit.placeId, id)).run()
  house.places.forget()
}
