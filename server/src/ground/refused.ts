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

export const notFound = (what: string): Refused => new Refused(404, 'not_found', `There is no such ${what}.`)
