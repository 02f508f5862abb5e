import type { KindsOfSlip } from '../ledger/kind.ts'

/** What is wasted. */
export const KINDS: KindsOfSlip = {
  waste: {
    title: 'What is wasted',
    what: 'Wasted',
    hint: 'Scan or type what is wasted',
    lot: 'out',
    price: false,
    from: true,
    to: false,
    reason: true,
    pack: 'issuing',
  },
}
