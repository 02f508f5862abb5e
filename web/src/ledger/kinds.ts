import type { SlipKind } from '@shelve/contract'

/** How each kind of slip looks on the screen where it is written: its question, and which columns its lines have. */
export interface KindOfSlip {
  readonly title: string
  readonly what: string
  readonly hint: string
  readonly lot: 'in' | 'out' | 'none'
  readonly price: boolean
  readonly from: boolean
  readonly to: boolean
  readonly reason: boolean
  readonly pack: 'buying' | 'issuing'
}
export const KINDS: Partial<Record<SlipKind, KindOfSlip>> = {
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
  issue: {
    title: 'What is handed out',
    what: 'Handed out',
    hint: 'Scan or type what is handed out',
    lot: 'out',
    price: false,
    from: true,
    to: false,
    reason: false,
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
    pack: 'issuing',
  },
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
