import type { KindsOfSlip } from '../ledger/kind.ts'

/** What is received, and what of it goes back. */
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
  supplier_return: {
    title: 'What goes back to the supplier',
    what: 'Goes back',
    hint: 'Scan or type what goes back',
    lot: 'out',
    price: true,
    from: true,
    to: false,
    reason: false,
    pack: 'issuing',
  },
}
