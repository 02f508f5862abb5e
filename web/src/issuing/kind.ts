import type { KindsOfSlip } from '../ledger/kind.ts'

/** What is handed out, and what comes back. */
export const KINDS: KindsOfSlip = {
  issue: {
    title: 'What is handed out',
    what: 'Handed out',
    hint: 'Scan or type what is handed out',
    lot: 'out',
    price: false,
    from: true,
    to: false,
    reason: false,
    spoils: true,
    pack: 'issuing',
  },
  bring_back: {
    title: 'What comes back',
    what: 'Back',
    hint: 'Scan or type what comes back',
    lot: 'none',
    price: false,
    from: false,
    to: true,
    reason: false,
    spoils: true,
    pack: 'issuing',
  },
}
