/**
 * What a change of set-up changes for what rooms keep in memory: some items, names that no figure hangs on (people, jobs,
 * reasons, codes), or, where nothing is said, everything.
 */
export type Changed = { readonly items: readonly number[] } | 'names' | 'everything'

/**
 * What a transaction touches of what rooms keep in memory: a change of set-up, and items whose stock is another one. It is
 * written down with the transaction, so that a house that only reads lets go of the same, and of no more.
 */
export interface Touches {
  readonly setUp?: Changed | undefined
  readonly items?: readonly number[] | undefined
}
