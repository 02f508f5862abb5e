import type { KindsOfSlip } from '../ledger/kind.ts'

/** What is received. */
export const KINDS: KindsOfSlip = {
  receipt: {
    title: 'What arrived',
    what: 'Arrived',
    hint: 'Scan the next box, or type what arrived',
    lot: 'in',
    price: true,
    from: false,
    to: true,
    reason: false,
    pack: 'buying',
  },
}
