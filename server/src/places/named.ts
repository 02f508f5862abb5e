import type { Named } from '@shelve/contract'
import { ownCode } from '@shelve/core'

/** Something that is known by its name alone, as it is told. */
export const namedView =
  (kind: 'supplier' | 'cost_centre' | 'reason') =>
  (r: { id: number; uid: string; name: string; code?: string; active: boolean }): Named => ({
    id: r.uid,
    name: r.name,
    code: r.code ?? null,
    active: r.active,
    own: ownCode(kind, r.id),
  })
