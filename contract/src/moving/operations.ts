import { z } from 'zod'
import { Day, Uuid } from '../common.ts'
import { id, op, place } from '../operation.ts'
import { idOf } from '../things.ts'
import * as transfers from './transfers.ts'

const begun = z.object({ id: idOf('draft') })

/** What one may ask of this room. */
export const operations = {
  transfers: op(
    'get',
    '/api/transfers',
    'What is on its way from a place or to it; or what has arrived, latest first',
    {
      query: place.extend({ over: z.enum(['true', 'false']).default('false') }),
      answer: z.object({ rows: z.array(transfers.TransferRow) }),
    },
  ),
  goals: op('get', '/api/transfers/goals', 'The places that something may be sent to, by their names', {
    right: 'book',
    answer: z.object({ rows: z.array(z.object({ id: Uuid, name: z.string() })) }),
  }),
  usualWay: op('get', '/api/transfers/usual', 'How something went last between two places', {
    query: z.object({ from: idOf('place'), to: idOf('goal') }),
    answer: z.object({ way: transfers.UsualWay.nullable() }),
  }),
  transfer: op('get', '/api/transfers/:id', 'What a slip sent, and what has become of it', {
    params: id.slip,
    answer: transfers.TransferView,
  }),
  beginArrival: op(
    'post',
    '/api/transfers/:id/arrival',
    'Begins the slip for what has arrived: all that is on its way',
    {
      right: 'book',
      status: 201,
      params: id.slip,
      body: begun.extend({
        /** Where it came to, where that is not where it was sent. */ place: idOf('place').optional(),
      }),
      answer: begun,
    },
  ),
  dueOfTransfer: op('put', '/api/transfers/:id/due', 'It is to be there on another day', {
    right: 'book',
    params: id.slip,
    body: z.object({ due: Day.nullable() }),
    answer: transfers.TransferView,
  }),
  loseTransfer: op(
    'post',
    '/api/transfers/:id/loss',
    'What is left on the way is lost, or some of it: that becomes an open difference',
    {
      right: 'book',
      status: 201,
      params: id.slip,
      body: transfers.Loss,
      answer: transfers.TransferView,
    },
  ),
}
