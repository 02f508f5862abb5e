/** One side of a posting: an amount on an account code, positive as a debit; `party` names who it is about (a cost centre), where that matters. */
export interface Posting {
  readonly code: string
  readonly party: string
  readonly amount: bigint
}
export interface CodeSum {
  readonly code: string
  readonly party: string
  readonly debit: bigint
  readonly credit: bigint
}

/**
 * Sums postings by account code and party, debits and credits apart, in the order of the codes. In double entry (common
 * practice since Pacioli 1494, from memory) all debits together are all credits.
 */
export function sumByCode(postings: Iterable<Posting>): CodeSum[] {
  const sums = new Map<string, { code: string; party: string; debit: bigint; credit: bigint }>()
  for (const p of postings) {
    const key = `${p.code}\n${p.party}`
    let s = sums.get(key)
    if (!s) sums.set(key, (s = { code: p.code, party: p.party, debit: 0n, credit: 0n }))
    if (p.amount > 0n) s.debit += p.amount
    else s.credit -= p.amount
  }
  return [...sums.values()].sort((a, b) =>
    a.code < b.code ? -1 : a.code > b.code ? 1 : a.party < b.party ? -1 : a.party > b.party ? 1 : 0,
  )
}
