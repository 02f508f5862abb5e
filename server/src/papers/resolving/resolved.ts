import type { Near, Refusal, SlipDraft, Working } from '@shelve/core'

/** What the caller is told of a count line before it is booked. */
export interface Expected {
  readonly working: Working
  readonly expected: bigint
  readonly counted: bigint
  readonly confirmed: boolean
  readonly at: number
  /** What was counted first of the line, by whomever: counted − expected, and whether that was within tolerance. */
  readonly first?: { readonly off: bigint; readonly within: boolean }
  /** What moved there within half an hour of it: looked up for whoever is told, booking does not ask. */
  readonly near: () => readonly Near[]
}

/** What is expected of a line that nobody has counted yet, and how it is worked out. */
export interface Awaited {
  readonly working: Working
  readonly expected: bigint
}

export interface Resolved {
  readonly draft: SlipDraft
  readonly refusals: Refusal[]
  readonly expected: ReadonlyMap<string, Expected>
  /** The same of lines that nobody has counted yet. */
  readonly awaited: ReadonlyMap<string, Awaited>
  readonly tallyUids: ReadonlyMap<number, string>
  readonly readings: ReadonlyMap<string, string>
}
