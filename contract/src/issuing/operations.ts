import { z } from 'zod'
import * as slips from '../ledger/slips.ts'
import { id, op } from '../operation.ts'
import { idOf } from '../things.ts'
import { Taking } from './taking.ts'

/** What one may ask of this room. */
export const operations = {
  take: op(
    'post',
    '/api/takings/:id',
    'Takes from an open shelf oneself; again with the same content gives the same answer',
    {
      right: 'take',
      status: 201,
      params: id.draft,
      body: Taking,
      answer: slips.SlipView,
    },
  ),
  takeBack: op('post', '/api/takings/:id/reversal', 'What one took oneself today was a mistake: it lies there again', {
    right: 'take',
    status: 201,
    params: id.slip,
    body: z.object({ id: idOf('draft') }),
    answer: slips.SlipView,
  }),
} as const
