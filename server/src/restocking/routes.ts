import type { RestockView } from '@shelve/contract'
import { retryMail } from '../notices/index.ts'
import { listed, listingPdf } from '../printing/index.ts'
import { demandAt, type Handlers, scopeOf } from '../rights/index.ts'
import type { House } from './house.ts'
import { refill } from './refill.ts'
import { arrivalOf, cancelLine, dropRestock, giveBack, handOver, mailRestock, markAsked, moveOf } from './asking.ts'
import { demandAll, itemsOf, restockOf, restockOfMail, restockView } from './restock.ts'
import { wantSlip } from './rows.ts'
import { beginRestock, saveRestock } from './writing.ts'

/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House) {
  /** What does something with a slip, and with what is coming of its items. */
  const change = (run: () => number[]) => house.change('restock', run, items => ({ items }))
  const restockListing = (v: RestockView) =>
    listed(
      house,
      `${v.number}, to ask for, of ${v.name}`,
      l => [l.code, l.name, l.typed || '0', l.unit ?? l.base, l.quantity, l.base, l.placeName, l.why],
      ['code', 'name', 'asked', 'in', 'quantity', 'unit', 'for', 'why'],
      v.lines,
      v.number,
    )
  return {
    restock: ({ query, caller }) => restockOf(house, caller, scopeOf(house, caller, query.place)),
    beginRestock: ({ body, caller }) => {
      house.change('restock', () => beginRestock(house, caller, body.id, body))
      return restockView(house, caller, body.id)
    },
    restockSlip: async ({ params, caller, csv }) => {
      await house.stock.wanted(itemsOf(house, wantSlip(house, params.id).id))
      const v = restockView(house, caller, params.id)
      return csv ? restockListing(v) : v
    },
    mailRestock: async ({ params, body, caller, revision }) => {
      demandAll(house, caller, params.id, 'order')
      const v = restockView(house, caller, params.id)
      const listing = restockListing({ ...v, lines: v.lines.filter(l => l.quantity !== '0') })
      const name = `${house.organisation!.name} ${house.today()}`.replace(/[^\w.-]+/g, '-')
      const pdf = await listingPdf(house, listing, `${house.organisation!.name} · asked for by ${caller.name}`)
      const attachments = [
        { filename: `${name}.pdf`, type: 'application/pdf', base64: Buffer.from(pdf).toString('base64') },
        {
          filename: `${name}.csv`,
          type: 'text/csv',
          base64: Buffer.from(await listing.text()).toString('base64'),
        },
      ]
      change(() => mailRestock(house, caller, params.id, body, attachments, revision))
      void house.post?.tick()
      return restockView(house, caller, params.id)
    },
    retryMail: ({ params, caller }) => {
      demandAll(house, caller, restockOfMail(house, params.id)!, 'order')
      house.change('mail', () => retryMail(house, params.id))
      void house.post?.tick()
      return undefined
    },
    refill: ({ params, caller }) => house.change('draft', () => refill(house, caller, params.id)),
    saveRestock: ({ params, body, caller, revision }) => {
      demandAll(house, caller, params.id)
      const saved = house.change('restock', () => saveRestock(house, caller, params.id, body, revision))
      return { ...saved, slip: restockView(house, caller, params.id) }
    },
    dropRestock: ({ params, caller, revision }) => {
      // What was asked for is taken back where it was asked for.
      demandAll(house, caller, params.id, restockView(house, caller, params.id).state === 'open' ? 'ask' : 'order')
      change(() => dropRestock(house, params.id, revision))
      return undefined
    },
    handRestock: ({ params, caller, revision }) => {
      demandAll(house, caller, params.id)
      house.change('restock', () => handOver(house, caller, params.id, revision))
      return restockView(house, caller, params.id)
    },
    giveBackRestock: ({ params, body, caller, revision }) => {
      demandAll(house, caller, params.id, 'order')
      house.change('restock', () => giveBack(house, caller, params.id, body.why, revision))
      return restockView(house, caller, params.id)
    },
    cancelRestockLine: ({ params, body, caller }) => {
      demandAll(house, caller, params.id, 'order')
      change(() => cancelLine(house, caller, params.id, body.line, body.why))
      return restockView(house, caller, params.id)
    },
    arriveRestock: ({ params, body, caller }) => {
      demandAt(house, caller, 'book', house.places.id(body.place)!)
      house.change('restock', () => arrivalOf(house, caller, params.id, body.id, body.place))
      return { id: body.id }
    },
    askRestock: ({ params, body, caller, revision }) => {
      demandAll(house, caller, params.id, 'order')
      change(() => markAsked(house, caller, params.id, body, revision))
      return restockView(house, caller, params.id)
    },
    moveRestock: ({ params, body, caller, revision }) => {
      demandAll(house, caller, params.id)
      change(() => moveOf(house, caller, params.id, body.id, revision))
      return restockView(house, caller, params.id)
    },
  } satisfies Partial<Handlers>
}
