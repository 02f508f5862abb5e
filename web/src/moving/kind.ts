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
  dispatch: {
    title: 'What is sent',
    what: 'Sent',
    hint: 'Scan or type what is sent',
    lot: 'out',
    price: false,
    from: true,
    to: false,
    reason: false,
    pack: 'issuing',
  },
  arrival: {
    title: 'What has arrived',
    what: 'Arrived',
    hint: 'Scan or type what has arrived',
    lot: 'told',
    price: false,
    from: false,
    to: true,
    reason: false,
    pack: 'issuing',
  },
}
