import { type DraftSeen, type Said, saidOf, type SlipContent } from '@shelve/contract'
import { canonical } from '@shelve/core'
import { notFound, Refused, sha256 } from '../ground/index.ts'
import type { Caller } from '../rights/index.ts'
import { contentOf, saysThat, type SlipRecord } from './drafts.ts'
import type { House } from './house.ts'

/** A slip as it is handed in for booking: a draft by what was seen of it, or one written away from the server. */
export type Handed = { readonly draft: DraftSeen } | { readonly content: SlipContent }

/** Nobody hands in what somebody else counted: an entry is its writer's, or nobody's. */
export const ownEntries = (content: SlipContent, caller: Caller): SlipContent =>
  content.lines.some(l => l.counter !== null && l.counter !== caller.uid)
    ? { ...content, lines: content.lines.map(l => (l.counter === null ? l : { ...l, counter: caller.uid })) }
    : content

/** The hash of what a slip says: the same content again is the same slip. */
export const requestOf = (said: Said): string => sha256(canonical(said))

/**
 * What a slip says that is handed in. One that is booked already is the same one or refused; so is a draft that says
 * something else than what was seen of it, so that nobody's entry is booked unseen or left out.
 */
export function contentHanded(house: House, uid: string, handed: Handed): SlipContent {
  const found = house.rows.slip.get({ uid })
  if ('draft' in handed) {
    if (!found) throw notFound('slip')
    if (!wasSeen(house, found, handed.draft)) throw found.state === 'booked' ? otherwise(found) : savedSince()
    return contentOf(house, found)
  }
  if (found?.state === 'booked' && found.requestHash !== requestOf(saidOf(handed.content))) throw otherwise(found)
  if (found?.state === 'draft' && !saysThat(house, found, handed.content)) throw savedSince()
  return handed.content
}

/** Whether the head and every line were seen as they stand, and no other line stands there. */
function wasSeen(house: House, record: SlipRecord, seen: DraftSeen): boolean {
  const lines = house.rows.lines.all({ slip: record.id })
  const revisions = new Map(seen.lines.map(l => [l.id, l.revision]))
  return (
    record.revision === seen.revision &&
    lines.length === seen.lines.length &&
    lines.every(l => revisions.get(l.uid) === l.revision)
  )
}

const otherwise = (found: SlipRecord): Refused =>
  new Refused(
    409,
    'booked_otherwise',
    `This slip is booked already as ${found.number}, with other content. Open it to see; what you have here can be booked as a new slip.`,
  )
const savedSince = (): Refused =>
  new Refused(
    409,
    'saved_meanwhile',
    'This slip was saved meanwhile and says something else by now. Look at what stands there, then book it.',
  )
