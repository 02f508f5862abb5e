import type { SlipKind, SlipLine } from '@shelve/contract'

/** How lines of a slip look: which columns they have. */
export interface Way {
  readonly what: string
  /** `told`: it stands there and is not chosen. */
  readonly lot: 'in' | 'out' | 'told' | 'none'
  readonly price: boolean
  readonly from: boolean
  readonly to: boolean
  readonly reason: boolean
  /** It may have spoiled instead: a line says why, where it did. */
  readonly spoils?: boolean
  /** It becomes a container that is open. */
  readonly opens?: boolean
  /** It bears a part of the cost beside others. */
  readonly share?: boolean
}
/** How each kind of slip looks on the screen where it is written: its question, and which columns its lines have. */
export interface KindOfSlip extends Way {
  readonly title: string
  readonly hint: string
  /** In what one counts where nothing else is said: what is bought, the base unit, one container. */
  readonly pack: 'buying' | 'issuing' | 'container'
  /** Of one that has two sides: what comes out, beside what goes in. */
  readonly out?: Way & { readonly title: string; readonly hint: string }
}
export type KindsOfSlip = Partial<Record<SlipKind, KindOfSlip>>

/** How a line of such a slip looks, by the side that it stands on. */
export const wayOf = (kind: KindOfSlip, { side }: Pick<SlipLine, 'side'>): Way =>
  side === 'out' && kind.out ? kind.out : kind
