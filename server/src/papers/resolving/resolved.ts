import type { Refusal, SlipDraft, Working } from '@shelve/core'

/** What the caller is told of a count line before it is booked. */
export interface Expected {
  readonly working: Working
  readonly expected: bigint
  readonly counted: bigint
  readonly confirmed: boolean
  readonly at: number
}

export interface Resolved {
  readonly draft: SlipDraft
  readonly refusals: Refusal[]
  readonly expected: ReadonlyMap<string, Expected>
  readonly tallyUids: ReadonlyMap<number, string>
  readonly readings: ReadonlyMap<string, string>
}
