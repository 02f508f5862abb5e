/**
 * What a change of set-up changes for what rooms keep in memory: some items, names that no figure hangs on (people, jobs,
 * reasons, codes), places, of which passing ones came (where something lies with a job, or on its way), or, where nothing is
 * said, everything.
 */
export type Changed = { readonly items: readonly number[] } | 'names' | 'places' | 'passing' | 'everything'
/** Whether what is read of items and of the organisation is another by it. */
export const changesItems = (of: Changed): boolean => of !== 'names' && of !== 'places' && of !== 'passing'

/**
 * What a transaction touches of what rooms keep in memory: a change of set-up, and items whose stock is another one. It is
 * written down with the transaction, so that a house that only reads lets go of the same, and of no more.
 */
export interface Touches {
  readonly setUp?: Changed | undefined
  readonly items?: readonly number[] | undefined
}
