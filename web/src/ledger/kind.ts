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
export type KindsOfSlip = Partial<Record<SlipKind, KindOfSlip>>
