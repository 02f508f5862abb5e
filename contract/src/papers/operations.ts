import { z } from 'zod'
import { idOf } from '../things.ts'
import { found, id, op } from '../operation.ts'
import * as reports from '../reports/reports.ts'
import * as content from './content.ts'
import * as drafts from './drafts.ts'
import * as slips from '../ledger/slips.ts'
import { HandsInput } from '../people/people.ts'

/** What one may ask of this room. */
export const operations = {
  working: op('get', '/api/workings/:figure', 'The lines behind a figure', {
    params: z.object({
      figure: z.enum([
        'on-hand',
        'available',
        'unit-cost',
        'value',
        'difference',
        'state',
        'value-here',
        'bring',
        'days',
        'first-expiry',
        'stock-value',
        'slip-value',
        'on-the-way',
      ]),
    }),
    query: z.object({
      item: idOf('item').optional(),
      place: idOf('place').optional(),
      lot: idOf('lot').optional(),
      difference: idOf('difference').optional(),
      slip: idOf('slip').optional(),
    }),
    answer: reports.WorkingView,
  }),

  slip: op('get', '/api/slips/:id', 'One slip', { params: id.slip, answer: slips.SlipView }),
  draft: op('get', '/api/slips/:id/draft', 'A draft with its revisions; with `since` its lines that were saved later', {
    params: id.draft,
    query: z.object({ since: z.coerce.number().int().min(0).optional() }),
    answer: drafts.DraftView,
  }),
  beginDraft: op('put', '/api/slips/:id', 'Begins a draft; one that is there already is not changed by it', {
    right: 'book',
    params: id.draft,
    body: content.SlipContent,
    answer: drafts.DraftSaved,
  }),
  saveDraft: op('patch', '/api/slips/:id', 'Saves what was changed of a draft: its head by If-Match, lines by theirs', {
    right: 'book',
    params: id.draft,
    body: drafts.DraftChanges,
    answer: drafts.DraftSaved,
    ifMatch: true,
  }),
  dropDraft: op('delete', '/api/slips/:id', 'Throws a draft away, as it was seen by If-Match', {
    right: 'book',
    params: id.draft,
    ifMatch: true,
  }),
  addPicture: op('post', '/api/pictures', 'Puts a photograph there, for a slip to name', {
    right: 'book',
    status: 201,
    upload: ['image/jpeg', 'image/png', 'image/webp'],
    answer: found,
  }),
  slipPicture: op('get', '/api/slips/:id/pictures/:picture', 'A photograph that a slip names', {
    params: z.object({ id: idOf('slip'), picture: idOf('picture') }),
    binary: 'image/*',
  }),
  effect: op('post', '/api/slips/:id/effect', 'Before → after: what booking would do, without doing it', {
    right: 'book',
    params: id.draft,
    query: z.object({
      /** The look (its `tag`) of which what differs is enough to tell. */
      since: z.string().max(60).optional(),
      /** `changed`: the body has those lines alone that say something else than at that look, or are new behind them. */
      lines: z.enum(['changed']).optional(),
    }),
    body: content.SlipContent,
    answer: slips.Effect,
    reads: true,
  }),
  effectWorking: op(
    'post',
    '/api/slips/:id/effect/working',
    'The lines behind a figure of the effect, without booking',
    { right: 'book', params: id.draft, body: slips.EffectWorkingInput, answer: reports.WorkingView, reads: true },
  ),
  book: op(
    'post',
    '/api/slips/:id/booking',
    'Books a slip, all of it or nothing; again with the same content gives the same answer',
    {
      right: 'book',
      params: id.draft,
      status: 201,
      body: slips.Booking,
      answer: slips.SlipView,
      brief: slips.BookedSlip,
    },
  ),
  witness: op(
    'post',
    '/api/slips/:id/witness',
    'Somebody else shows that they were there when what the slip says was thrown away',
    {
      right: 'book',
      secret: true,
      params: id.draft,
      status: 201,
      body: z.object({ content: content.SlipContent, who: HandsInput }),
      answer: z.object({ name: z.string() }),
    },
  ),
  reverse: op('post', '/api/slips/:id/reversal', 'Takes a booked slip back, whole or by lines', {
    right: 'book',
    params: id.slip,
    status: 201,
    body: slips.Reversal,
    answer: slips.SlipView,
    brief: slips.BookedSlip,
  }),
} as const
