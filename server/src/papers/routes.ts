import type { SlipContent } from '@shelve/contract'
import { notFound, Refused } from '../ground/index.ts'
import { sightOf, workingOf } from '../position/index.ts'
import { Bytes, type Caller, demandEverywhere, type Handlers, scopeOf } from '../rights/index.ts'
import { bookHanded, effectOf } from './book.ts'
import { judgeAhead } from './by-item.ts'
import { dropDraft } from './drafts.ts'
import { effectWorking } from './effect-working.ts'
import { contentHanded, type Handed, ownEntries } from './handed.ts'
import type { House } from './house.ts'
import { keepPicture, pictureOf } from './pictures.ts'
import { reversalContent } from './reversal.ts'
import { draftView, putDraft, saveDraft } from './saving.ts'
import { bookedBriefly, slipScope, slipView } from './view.ts'
import { witnessed } from './witness.ts'

/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House) {
  /** A change of cost method is set-up, written as a slip. */
  const mayWrite = (content: SlipContent, caller: Caller) => {
    if (house.kinds.get(content.kind)!.changesSetUp) demandEverywhere(house, caller, 'set_up')
  }
  const bookIt = async (uid: string, handed: Handed, seen: string | null, caller: Caller) => {
    const content = contentHanded(house, uid, handed)
    if (content.kind === 'correction' && !caller.may.has('reverse'))
      throw new Refused(403, 'not_allowed', 'You may not take slips back.')
    mayWrite(content, caller)
    await bookHanded(house, caller, uid, handed, content, seen)
    return uid
  }
  const told = {
    shows: (uid: string, caller: Caller) => slipView(house, caller, uid),
    briefly: (uid: string, caller: Caller) => bookedBriefly(house, caller, uid),
  }
  /** A slip's value is about the place it was written in, whatever else was asked. */
  const scopeOfSlip = (uid: string | undefined) => {
    const row = uid === undefined ? undefined : house.rows.slip.get({ uid })
    if (!row) throw notFound('slip')
    return slipScope(house, row)
  }
  return {
    slip: ({ params, caller }) => slipView(house, caller, params.id),
    draft: ({ params, query }) => draftView(house, params.id, query.since ?? 0),
    beginDraft: ({ params, body, caller }) => putDraft(house, caller, params.id, body),
    saveDraft: ({ params, body, caller, revision }) => saveDraft(house, caller, params.id, body, revision),
    dropDraft: ({ params, caller, revision }) => {
      dropDraft(house, caller, params.id, revision)
      return undefined
    },
    effect: async ({ params, query: { since, lines }, body, caller }) => {
      mayWrite(body, caller)
      // What its lines are about is read before, others being let in; then it is judged as it stands at one moment.
      await house.stock.wanted(body.lines.flatMap(l => (l.item === null ? [] : (house.known.item(l.item)?.id ?? []))))
      const whole = lines === 'changed' ? house.looks.whole(house, caller, params.id, since ?? '', body) : body
      if (!whole)
        throw new Refused(
          409,
          'look_forgotten',
          'What the other lines said is not kept any more. Ask again with all of them.',
        )
      await judgeAhead(house, caller, params.id, whole)
      return effectOf(house, caller, params.id, whole, since)
    },
    effectWorking: ({ params, body, caller }) => {
      mayWrite(body.content, caller)
      return effectWorking(house, caller, params.id, body)
    },
    addPicture: ({ caller, upload }) => {
      if (!upload) throw new Refused(415, 'not_a_picture', 'A picture is wanted: JPEG, PNG or WebP.')
      return { id: keepPicture(house, caller.id, upload) }
    },
    slipPicture: ({ params, caller }) => {
      const p = pictureOf(house, slipView(house, caller, params.id).content!, params.picture)
      return new Bytes('picture', p.bytes, p.type)
    },
    book: {
      does: ({ params, body, caller }) =>
        bookIt(
          params.id,
          body.draft ? { draft: body.draft } : { content: ownEntries(body.content!, caller) },
          body.seen,
          caller,
        ),
      ...told,
    },
    witness: async input => {
      const { params, body, caller } = input
      return witnessed(house, input, params.id, ownEntries(body.content, caller), body.who)
    },
    reverse: {
      does: ({ params, body, caller }) =>
        bookIt(body.id, { content: reversalContent(house, params.id, body) }, null, caller),
      ...told,
    },
    working: async ({ params, query, caller }) => {
      const scope = params.figure === 'slip-value' ? scopeOfSlip(query.slip) : scopeOf(house, caller, query.place)
      if (params.figure === 'stock-value') await house.stock.ready(it => house.stock.here(it, scope, house.today()))
      if (params.figure === 'on-the-way') await house.stock.ready()
      return workingOf(house, sightOf(house, caller, scope), scope, params.figure, query)
    },
  } satisfies Partial<Handlers>
}
