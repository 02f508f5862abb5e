import { eq } from 'drizzle-orm'
import type { Me, Settings, SettingsChange } from '@shelve/contract'
import { decimal, formatDecimal } from '@shelve/core'
import { iso, organisation, Refused } from '../ground/index.ts'
import { type Asking, type Caller, MAY } from '../rights/index.ts'
import { noteChanges } from './audit.ts'
import type { House } from './house.ts'
import { person } from './tables.ts'

export function settingsOf(house: House): Settings {
  const o = house.organisation!
  return {
    name: o.name,
    zone: o.zone,
    currency: o.currency,
    decimalMark: o.decimalMark as '.',
    dateOrder: o.dateOrder as 'dmy',
    shortRule: o.shortRule as 'below',
    method: o.method as Settings['method'],
    patienceDays: o.patienceDays,
    aheadDays: o.aheadDays,
    tolerancePercent: formatDecimal(o.tolerancePercent),
    toleranceValue: o.toleranceValue === null ? null : formatDecimal(o.toleranceValue),
  }
}

/** Changes what is named of how the organisation works; what is not named stays. */
export function changeSettings(house: House, s: SettingsChange, asking: Asking): void {
  if (!Object.keys(s).length) return
  const { tolerancePercent: percent, toleranceValue: worth, ...rest } = s
  const set = {
    ...rest,
    ...(percent === undefined ? {} : { tolerancePercent: decimal(percent) }),
    ...(worth === undefined ? {} : { toleranceValue: worth === null ? null : decimal(worth) }),
  }
  const plainly = Object.entries(set).map(([k, v]) => [k, typeof v === 'bigint' ? formatDecimal(v) : v])
  noteChanges(house, asking, 'setting', settingsOf(house), Object.fromEntries(plainly))
  try {
    house.db.update(organisation).set(set).where(eq(organisation.id, 1)).run()
  } catch (e) {
    // The database itself keeps it, from the first movement on.
    if (!/the currency is frozen/.test(String((e as Error).message))) throw e
    const message = `Something was booked in ${house.organisation!.currency} already: the currency stays.`
    throw new Refused(409, 'currency_frozen', message, [{ field: 'currency', code: 'currency_frozen', message }])
  }
}

/** What the caller may do, and where: everywhere, or in these places and all that lies in them. */
const mayOf = (house: House, c: Caller): Me['may'] =>
  Object.fromEntries(
    [...c.may].map(a => {
      const grants = c.grants.filter(g => MAY[g.role].includes(a))
      return [
        a,
        grants.some(g => g.placeId === null)
          ? ('everywhere' as const)
          : grants.map(g => house.places.row(g.placeId!)!.uid),
      ]
    }),
  )

export const meOf = (house: House, c: Caller): Me => ({
  person: { id: c.uid, name: c.name, signIn: c.signIn, role: c.role },
  may: mayOf(house, c),
  lowered: c.lowered,
  hasPin: house.db.select({ h: person.pinHash }).from(person).where(eq(person.id, c.id)).get()?.h !== null,
  settings: settingsOf(house),
  now: iso(house.now()),
  expiresAt: iso(c.expiresAt),
  events: house.events.last(),
  putBack: house.events.putBack,
})
