import { MOST_LINES, SlipContent, type SlipLine } from '@shelve/contract'
import type { Caller } from '../rights/index.ts'
import type { Base } from './base.ts'

/** So many looks at a slip are kept: one may be on its way while the next is asked, and be given up meanwhile. */
export const LOOKS = 4
/** So many slips are kept at once. */
const SLIPS = 12

interface Look {
  readonly tag: string
  readonly kind: SlipContent['kind']
  readonly lines: readonly SlipLine[]
  /** The event after which everything that the lines name was there for their writer. */
  heard: number
}

/**
 * What the lines of a slip said when it was looked at, by the name of that look: of a long slip what was typed since is
 * sent alone. It is nobody else's but its writer's, and nothing hangs on it: of a look that is not kept any more all is
 * sent again.
 */
export class Looks {
  readonly #slips = new Map<string, Look[]>()

  keep(house: Base, caller: Caller, uid: string, tag: string, { kind, lines }: SlipContent): void {
    const key = `${uid} ${caller.id}`
    const looks = this.#slips.get(key) ?? []
    this.#slips.delete(key)
    this.#slips.set(key, [...looks.slice(1 - LOOKS), { tag, kind, lines, heard: house.heard }])
    if (this.#slips.size > SLIPS) this.#slips.delete(this.#slips.keys().next().value!)
  }

  /**
   * A slip whole, of lines that are others than in a look, or new behind all of that: `part`. Undefined where that is not
   * kept. What the kept lines name is looked up anew where anything happened since.
   */
  whole(house: Base, caller: Caller, uid: string, since: string, part: SlipContent): SlipContent | undefined {
    const look = this.#slips.get(`${uid} ${caller.id}`)?.find(l => l.tag === since)
    if (look?.kind !== part.kind) return undefined
    const sent = new Map(part.lines.map(l => [l.id, l]))
    const lines = look.lines.map(l => sent.get(l.id) ?? l)
    for (const l of look.lines) sent.delete(l.id)
    const content = { ...part, lines: [...lines, ...sent.values()] }
    if (content.lines.length > MOST_LINES) return undefined
    if (look.heard !== house.heard) {
      house.gate.admit(caller, { body: [SlipContent, content] })
      look.heard = house.heard
    }
    return content
  }
}
