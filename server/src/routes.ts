import type { z } from 'zod'
import type { Api } from '@shelve/contract'
import { firstRun } from './begin.ts'
import type { House } from './compose.ts'
import { backupsIn, iso, Refused, VERSION } from './ground/index.ts'
import { verifyApart } from './ledger/index.ts'
import { begun, startSession } from './people/index.ts'
import type { Handlers } from './rights/index.ts'

/** How tablets reach this server. */
export type Reached = z.output<Api['tablets']['answer']>

/** What belongs to no room: each operation of the contract and its use case. */
export function routes(house: House, reached: Reached) {
  const backupsNow = () => {
    const b = house.options.backups
    return {
      rows: b
        ? backupsIn(b.directory)
            .slice(0, 50)
            .map(r => ({ name: r.name, at: iso(r.at), bytes: r.bytes }))
        : [],
      hours: b?.plan.hours ?? 0,
      keep: b?.plan.keep ?? 0,
      trouble: b?.lastTrouble ?? null,
    }
  }
  return {
    health: () => {
      const damage = house.options.backups?.damage ?? null
      return { ok: damage === null, damaged: damage !== null, seq: house.ledger.lastSeq.get()!.seq, version: VERSION }
    },
    tablets: () => reached,
    start: () => ({
      empty: !house.organisation,
      name: house.organisation?.name ?? null,
      demonstration: house.options.demonstration ?? false,
      zones: [...new Set(['UTC', ...Intl.supportedValuesOf('timeZone')])],
    }),
    firstRun: async input =>
      begun(house, startSession(house, await firstRun(house, input.body, input), input.device), input),
    backups: backupsNow,
    takeBackup: async () => {
      if (!house.options.backups)
        throw new Refused(
          409,
          'no_backups',
          'This server keeps no backups: it was started without a data directory of its own.',
        )
      await house.options.backups.take()
      return backupsNow()
    },
    verify: async () => {
      const { ms: _, ...found } = await verifyApart(house.store.file)
      return found
    },
  } satisfies Partial<Handlers>
}
