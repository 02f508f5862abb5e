/** The places that a question is about. `key` names it, for what is remembered of it; without `within` it is every place. */
export interface Scope {
  readonly key: string
  readonly within: ReadonlySet<number> | undefined
  /** Of which it consists, each with all that lies in it. */
  readonly roots: readonly number[]
  readonly name: string
}

/** How places lie in each other, as far as rights must know it; the places themselves stand above. */
export interface Tree {
  scope(ids?: readonly number[]): Scope
  /** The same, and what is on its way from there or to there. */
  reach(ids?: readonly number[]): Scope
  within(id: number): ReadonlySet<number>
  id(uid: string): number | undefined
  name(id: number): string
}

export const isIn = (scope: Scope, placeId: number): boolean => scope.within?.has(placeId) ?? true
