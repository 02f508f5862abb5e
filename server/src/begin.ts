import type { FirstRun } from '@shelve/contract'
import { openFixedAccounts } from './accounts/index.ts'
import type { House } from './compose.ts'
import { organisation, Refused } from './ground/index.ts'
import { addPerson, newPassword, note } from './people/index.ts'
import type { Asking } from './rights/index.ts'
import { createPlace } from './places/index.ts'
import { createWasteReason } from './waste/index.ts'

const WASTE_REASONS = ['Expired', 'Spoiled', 'Damaged', 'Spilled', 'Contaminated', 'Trimmed', 'Over-made']

/** The first run: organisation, fixed accounts, first manager, first area. Only ever on an empty database. */
export async function firstRun(
  house: House,
  input: {
    organisation: FirstRun['organisation']
    manager: { name: string; signIn: string; password: string }
    area: string
  },
  asking: Asking,
): Promise<number> {
  const passwordHash = await newPassword(input.manager.password, input.manager.signIn)
  return house.setUp(() => {
    if (house.organisation)
      throw new Refused(409, 'already_set_up', 'There is an organisation already. Sign in instead.')
    house.db
      .insert(organisation)
      .values({
        id: 1,
        ...input.organisation,
        shortRule: 'at_or_below',
        method: 'average',
        tolerancePercent: 5_000_000n,
        patienceDays: 28,
        aheadDays: 14,
        createdAt: house.now(),
      })
      .run()
    openFixedAccounts(house)
    const id = addPerson(house, { ...input.manager, passwordHash, role: 'manager' }, asking)
    createPlace(house, { name: input.area, kind: 'area' })
    for (const name of WASTE_REASONS) createWasteReason(house, name)
    note(house, asking, { what: 'begun', subject: input.organisation.name, after: input.manager.signIn })
    return id
  })
}
