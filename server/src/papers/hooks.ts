import type { SlipContent } from '@shelve/contract'
import type { Booked, Refusal } from '@shelve/core'

/** What a slip would do, as far as rooms of work ask for it. */
export type Does = Pick<Booked, 'movements' | 'touched' | 'effectiveAt'>
import type { Caller } from '../rights/index.ts'

/** What a room of work has to say of slips, or wants to be told of them: registered by compose. */
export interface Hooks {
  /** What else speaks against booking a slip; `booked` is what it would do, where the books take it; `lineId` names its lines as the ledger does. */
  refusals?(
    content: SlipContent,
    slipId: number,
    lineId: (uid: string) => string,
    booked: Does | undefined,
    /** Whether whoever writes it may override, there. */ override: boolean,
  ): Refusal[]
  /** What whoever writes it should know, and that does not stand in its way. */
  notes?(content: SlipContent, lineId: (uid: string) => string, booked: Does | undefined): string[]
  /** A slip is booked, inside the same transaction; gives items of which something else is so by it now. */
  booked?(slip: { readonly id: number }, content: SlipContent, caller: Caller): readonly number[] | void
  /** A draft is thrown away, inside the same transaction. */
  dropped?(slipId: number): void
  /** A booked slip was corrected, inside the same transaction; gives such items too. */
  corrected?(
    slip: { readonly id: number; readonly kind: string; readonly head: string },
    caller: Caller,
  ): readonly number[] | void
}
