import type { Express, Request, Response } from 'express'
import type { Api, Operation } from '@shelve/contract'
import { type Answered, type Asked, end, perform, wantCaller } from './asked.ts'
import type { House } from './compose.ts'
import { isLong, jsonInPieces, notTold, sendProblem, sendText, sendTrouble, troubleOf } from './ground/index.ts'
import { tokenOf } from './people/index.ts'
import { type Caller, type Handler, Listable, Sent } from './rights/index.ts'
import type { Writer } from './writer.ts'

/**
 * Binds an operation of the contract to what it does: what changes something is asked of the writer, where there is one;
 * all else is answered here. Everything that goes wrong becomes a problem document; nothing a caller sends can cause more.
 */
export function bind<O extends Operation>(
  express: Express,
  house: House,
  name: keyof Api,
  operation: O,
  handler: Handler<O>,
  writer: Writer | undefined,
): void {
  express[operation.method](operation.path, async (request, response) => {
    let written: Answered | undefined
    try {
      const asked = askedOf(request, operation)
      written = writer && operation.writes ? await writer.ask(name, asked) : undefined
      if (written && !('made' in written)) return send(request, response, written, asked.brief)
      if (!written) house.moveOn()
      const { caller, out, shown, cookie } = written
        ? {
            ...(await end(house, operation, handler, written.made, wantCaller(house, asked.token), asked.brief)),
            cookie: undefined,
          }
        : await perform(house, operation, handler, asked)
      if (cookie !== undefined) response.setHeader('set-cookie', cookie)
      if (asked.brief) response.setHeader('preference-applied', MINIMAL)
      const to = { request, response, caller: caller as Caller }
      if (out instanceof Sent) return void (await out.send(to))
      const answer = shown(out instanceof Listable ? out.answer : out)
      if (asked.csv && out instanceof Listable) return void (await out.list(answer, shown).send(to))
      if (operation.status === 204) response.status(204).end()
      else if (isLong(answer)) await sendText(response.status(operation.status).type('json'), jsonInPieces(answer))
      else response.status(operation.status).json(answer)
    } catch (error) {
      if (written) sendTrouble(response, notTold(troubleOf(error)), request)
      else sendProblem(response, error, request)
    }
  })
}

const askedOf = (request: Request, operation: Operation): Asked => ({
  params: { ...request.params },
  query: request.query,
  body: Buffer.isBuffer(request.body) ? undefined : (request.body as unknown),
  upload: Buffer.isBuffer(request.body) ? request.body : undefined,
  token: tokenOf(request),
  device: request.headers['user-agent'] ?? '',
  address: request.ip ?? '',
  secure: request.secure,
  ifMatch: request.headers['if-match'],
  key: request.get('idempotency-key'),
  csv: operation.csv && request.accepts(['json', 'csv', 'pdf']) !== 'json',
  brief: operation.brief !== undefined && prefersLittle(request.get('prefer')),
})
/** How little is preferred, by RFC 7240, 4.2. */
const MINIMAL = 'return=minimal'
/** Whether it is, among whatever else is preferred; of two words on one preference the first holds (RFC 7240, 2). */
const prefersLittle = (preferences = ''): boolean =>
  preferences
    .split(',')
    .map(p => p.split(';')[0]!.replace(/[\s"]/g, '').toLowerCase())
    .find(p => p.startsWith('return=')) === MINIMAL

function send(
  request: Request,
  response: Response,
  answer: Exclude<Answered, { made: unknown }>,
  brief: boolean,
): void {
  if ('trouble' in answer) return sendTrouble(response, answer.trouble, request)
  if (brief) response.setHeader('preference-applied', MINIMAL)
  if (answer.cookie !== undefined) response.setHeader('set-cookie', answer.cookie)
  response.status(answer.status)
  if (answer.json === undefined) response.end()
  else response.type('json').send(answer.json)
}
