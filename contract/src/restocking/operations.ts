import { z } from 'zod'
import { found, id, op, place } from '../operation.ts'
import * as restock from './restock.ts'

/** What one may ask of this room. */
export const operations = {
  restock: op('get', '/api/restock', 'What the figures suggest to ask for, by source, and the slips there are', {
    query: place,
    answer: z.object({ proposals: z.array(restock.Proposal), slips: z.array(restock.RestockRow) }),
  }),
  beginRestock: op('post', '/api/restock', 'Begins a restock slip: what stands on it is offered to nobody else', {
    right: 'ask',
    status: 201,
    body: restock.NewRestock,
    answer: restock.RestockView,
  }),
  restockSlip: op('get', '/api/restock/:id', 'One restock slip', {
    params: id.restock,
    answer: restock.RestockView,
    csv: true,
  }),
  refill: op(
    'post',
    '/api/places/:id/refill',
    'Fills a place up to its targets from our own shelves: a list to be picked for each area that it comes from',
    { right: 'book', status: 201, params: id.place, answer: restock.Refilled },
  ),
  saveRestock: op('patch', '/api/restock/:id', 'Saves what was changed of a restock slip that was not asked for yet', {
    right: 'ask',
    params: id.restock,
    body: restock.RestockChanges,
    answer: restock.RestockSaved,
    ifMatch: true,
  }),
  dropRestock: op('delete', '/api/restock/:id', 'Throws a slip away, or no longer waits for what was asked for', {
    right: 'ask',
    ifMatch: true,
    params: id.restock,
  }),
  handRestock: op(
    'post',
    '/api/restock/:id/handing',
    'Hands it to whoever sends out what is asked for; they see it waiting',
    {
      right: 'ask',
      status: 201,
      ifMatch: true,
      params: id.restock,
      answer: restock.RestockView,
    },
  ),
  giveBackRestock: op(
    'post',
    '/api/restock/:id/giving-back',
    'Gives it back to whoever handed it over, and why; they change it, hand it over again, or throw it away',
    {
      right: 'order',
      status: 201,
      ifMatch: true,
      params: id.restock,
      body: restock.GivingBack,
      answer: restock.RestockView,
    },
  ),
  cancelRestockLine: op('post', '/api/restock/:id/cancellation', 'Of a line nothing more will come, and why', {
    right: 'order',
    status: 201,
    params: id.restock,
    body: restock.Cancellation,
    answer: restock.RestockView,
  }),
  arriveRestock: op(
    'post',
    '/api/restock/:id/arrival',
    'It has come: a delivery of what is owed for a place, as a draft to be looked at',
    { right: 'book', status: 201, params: id.restock, body: restock.Arrival, answer: found },
  ),
  askRestock: op('post', '/api/restock/:id/asking', 'Marks it as asked for: from now on it is on its way', {
    right: 'order',
    status: 201,
    ifMatch: true,
    params: id.restock,
    body: restock.AskedInput,
    answer: restock.RestockView,
  }),
  mailRestock: op('post', '/api/restock/:id/mails', 'Mails a slip, and marks it as asked for', {
    right: 'order',
    status: 201,
    ifMatch: true,
    params: id.restock,
    body: restock.MailInput,
    answer: restock.RestockView,
  }),
  retryMail: op('post', '/api/mails/:id/attempts', 'Tries a letter again at once', {
    right: 'order',
    status: 204,
    params: id.mail,
  }),
  moveRestock: op('post', '/api/restock/:id/move', 'What comes from our own shelves becomes a move, as a draft', {
    right: 'book',
    status: 201,
    ifMatch: true,
    params: id.restock,
    body: id.draft,
    answer: restock.RestockView,
  }),
} as const
