import { alike } from '@shelve/core'

/** What of a request is wrong where, for a problem document. */
export interface RefusedField {
  readonly line?: string | null
  readonly field: string | null
  readonly code: string
  readonly message: string
  readonly detail?: Record<string, unknown>
}

/** Something a caller did wrong, to be answered as a problem document; `more` are members of it beside the standard's. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly fields: readonly RefusedField[] = [],
    readonly more: Readonly<Record<string, unknown>> = {},
  ) {
    super(message)
  }
}

export const stale = (): Refused =>
  new Refused(
    409,
    'changed_meanwhile',
    'Somebody changed this meanwhile. Look at it again; what you typed is still here.',
  )

/** What somebody saw is not what stands by now, and that is told. */
export function demandSeen<T extends object>(seen: T | undefined, stands: T): void {
  if (!seen || alike(seen, stands)) return
  const message = 'Somebody changed this meanwhile; saved once more, yours takes its place.'
  throw new Refused(409, 'changed_meanwhile', message, [], { stands })
}

export const notFound = (what: string): Refused => new Refused(404, 'not_found', `There is no such ${what}.`)
