import type { Express, Request } from 'express'
import { z } from 'zod'
import { hasValue, type Operation } from '@shelve/contract'
import type { House } from './compose.ts'
import { Refused, sendProblem } from './ground/index.ts'
import { callerOf, tokenOf } from './people/index.ts'
import { type Caller, demandEverywhere, type Handler, Listable, Sent, shownTo } from './rights/index.ts'

/**
 * Binds an operation of the contract to what it does: who asks and whether they may, then the request by its schemas,
 * then everything it names by the gate, then the handler, whose answer loses what the caller may not see. Everything that goes wrong becomes a problem document; nothing a caller sends can cause more.
 */
export function bind<O extends Operation>(express: Express, house: House, operation: O, handler: Handler<O>): void {
  express[operation.method](operation.path, async (request, response) => {
    try {
      const caller = operation.right === 'none' ? callerOf(house, tokenOf(request)) : allowed(house, request, operation)
      const input = {
        params: parse(operation.params, request.params, 'path'),
        query: parse(operation.query, request.query, 'query'),
        body: operation.body instanceof z.ZodUndefined ? undefined : parse(operation.body, request.body, 'body'),
        caller: caller as Caller,
        revision: revisionOf(request, operation),
        csv: operation.csv && request.accepts(['json', 'csv', 'pdf']) !== 'json',
        request,
        response,
      }
      if (caller)
        house.gate.admit(caller, {
          params: [operation.params, input.params],
          query: [operation.query, input.query],
          body: [operation.body, input.body],
        })
      const out = await handler(input as never)
      const to = { request, response, caller: input.caller }
      if (out instanceof Sent) {
        if (hasValue(operation.answer))
          throw new Error(`${operation.path}: what shows value is not sent past the route`)
        return void (await out.send(to))
      }
      const listable = out instanceof Listable ? out : undefined
      type Answer = z.input<O['answer']>
      const shown = (a: Answer): Answer => shownTo(house, caller, operation.answer, a)
      const answer = shown((listable ? listable.answer : out) as Answer)
      if (input.csv && listable) return void (await listable.list(answer, shown).send(to))
      if (operation.status === 204) response.status(204).end()
      else response.status(operation.status).json(answer)
    } catch (error) {
      sendProblem(response, error, request)
    }
  })
}

function allowed(house: House, request: Request, operation: Operation): Caller {
  const caller = callerOf(house, tokenOf(request))
  if (!caller) throw new Refused(401, 'not_signed_in', 'Sign in first.')
  const { right } = operation
  if (right === 'set_up' || right === 'close_month') demandEverywhere(house, caller, right)
  else if (right !== 'none' && !caller.may.has(right === 'set_up_here' ? 'set_up' : right))
    throw new Refused(403, 'not_allowed', `As ${caller.role} you may not do that. Ask a manager.`)
  return caller
}

function revisionOf(request: Request, operation: Operation): number | undefined {
  if (!operation.ifMatch) return undefined
  const text = request.headers['if-match']
  if (text === undefined) return undefined
  const n = Number(/^"?(\d{1,9})"?$/.exec(text)?.[1])
  if (!Number.isInteger(n))
    throw new Refused(400, 'bad_if_match', 'If-Match takes the revision it was read with, as a whole number.')
  return n
}

function parse(schema: z.ZodType, data: unknown, where: string): unknown {
  const result = schema.safeParse(data)
  if (result.success) return result.data
  const lines = data as { lines?: { id?: unknown }[]; content?: { lines?: { id?: unknown }[] } } | undefined
  const fields = result.error.issues.slice(0, 20).map(i => {
    const path = i.path.map(String)
    const at = path.indexOf('lines')
    const list = path[0] === 'content' ? lines?.content?.lines : lines?.lines
    const id = at >= 0 && Array.isArray(list) ? list[Number(path[at + 1])]?.id : undefined
    const isUid = typeof id === 'string' && /^[0-9a-f-]{36}$/.test(id)
    return { line: isUid ? id : null, field: path.join('.') || null, code: i.code, message: i.message }
  })
  throw new Refused(
    where === 'path' ? 404 : where === 'query' ? 400 : 422,
    where === 'path' ? 'not_found' : 'invalid',
    where === 'path'
      ? 'There is nothing under that address.'
      : `Something in the ${where} is not as it should be: ${fields[0]!.field ?? where}: ${fields[0]!.message}.`,
    fields,
  )
}
