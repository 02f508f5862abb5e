import type { SlipKind } from '@shelve/contract'
import type { Base } from './base.ts'
import type { Looks } from './looks.ts'
import type { Kind } from './resolving/reading.ts'

/** What stands up to this room: everything a slip is made of, and every kind of slip there is. */
export interface House extends Base {
  readonly kinds: ReadonlyMap<SlipKind, Kind>
  readonly looks: Looks
}
