import type { KindsOfSlip } from '../ledger/kind.ts'

/** What moves from shelf to shelf. */
export const KINDS: KindsOfSlip = {
  move: {
    title: 'What moves',
    what: 'Moves',
    hint: 'Scan or type what moves',
    lot: 'out',
    price: false,
    from: true,
    to: true,
    reason: false,
    pack: 'issuing',
  },
}
