import type { KindsOfSlip } from '../ledger/kind.ts'

/** What is made. */
export const KINDS: KindsOfSlip = {
  make: {
    title: 'What goes in',
    what: 'Goes in',
    hint: 'Scan or type what goes in',
    lot: 'out',
    price: false,
    from: true,
    to: false,
    reason: false,
    spoils: true,
    pack: 'issuing',
    out: {
      title: 'What is made',
      what: 'Made',
      hint: 'Type what is made, or comes of it beside',
      lot: 'in',
      price: false,
      from: false,
      to: true,
      reason: false,
      spoils: true,
      share: true,
    },
  },
}
