import type { Express, Request, Response } from 'express'
import { SqliteError } from './sqlite.ts'
import { z } from 'zod'
import type { Operation, Problem, RefusalView } from '@shelve/contract'
import { Refused, type App } from '../app.ts'
import { NotBooked } from '../ledger/book.ts'
import { demandEverywhere, type Caller } from '../people/rights.ts'
import { callerOf } from '../people/service.ts'
import { footOf, Listing, listingPdf, numberOfExport } from '../reports/listing.ts'

export const COOKIE = 'shelve'
export interface Input<O extends Operation> {
  readonly params: z.output<O['params']>
  readonly query: z.output<O['query']>
  readonly body: z.output<O['body']>
  readonly caller: Caller
  readonly revision: number | undefined
  readonly csv: boolean
  readonly request: Request
  readonly response: Response
}
/** Answers a request with the operation's answer, or with CSV rows where those were asked for. */
export type Handler<O extends Operation> = (
  input: Input<O>,
) => z.input<O['answer']> | Listing | Bytes | Promise<z.input<O['answer']> | Listing | Bytes>
/** A file: a paper to be shown or printed, a picture. */
export class Bytes {
  constructor(
    readonly name: string,
    readonly bytes: Uint8Array,
    readonly type = 'application/pdf',
  ) {}
}

/** The session's token: from the cookie, or for scripts as a bearer. */
export function tokenOf(request: Request): string | undefined {
  const bearer = /^Bearer (\S+)$/.exec(request.headers.authorization ?? '')?.[1]
  return bearer ?? new RegExp(`(?:^|;\\s*)${COOKIE}=([^;]+)`).exec(request.headers.cookie ?? '')?.[1]
}

/**
 * Binds an operation of the contract to what it does: who asks and whether they may, then the request by its schemas,
 * then the handler. Everything that goes wrong becomes a problem document; nothing a caller sends can cause more.
 */
export function bind<O extends Operation>(express: Express, app: App, operation: O, handler: Handler<O>): void {
  express[operation.method](operation.path, async (request, response) => {
    try {
      const caller = operation.right === 'none' ? callerOf(app, tokenOf(request)) : allowed(app, request, operation)
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
      const answer = await handler(input as never)
      if (answer instanceof Listing) return void (await sendListing(app, request, response, input.caller, answer))
      if (answer instanceof Bytes)
        return void response
          .status(200)
          .type(answer.type)
          .setHeader('content-disposition', `inline; filename="${answer.name}"`)
          .end(answer.bytes)
      if (operation.status === 204) response.status(204).end()
      else response.status(operation.status).json(answer)
    } catch (error) {
      sendProblem(response, error, request)
    }
  })
}

function allowed(app: App, request: Request, operation: Operation): Caller {
  const caller = callerOf(app, tokenOf(request))
  if (!caller) throw new Refused(401, 'not_signed_in', 'Sign in first.')
  const { right } = operation
  if (right === 'set_up' || right === 'close_month') demandEverywhere(app, caller, right)
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

export const problem = (status: number, code: string, detail: string, fields: Problem['fields'] = []): Problem => ({
  type: `urn:shelve:problem:${code}`,
  title: code.replaceAll('_', ' '),
  status,
  code,
  detail,
  fields,
})

/** Turns whatever went wrong into a problem document; what nobody foresaw is logged and says nothing of the inside. */
export function sendProblem(response: Response, error: unknown, request: Request): void {
  if (response.headersSent) {
    response.end()
    return
  }
  const send = (p: Problem, more: object = {}) =>
    response
      .status(p.status)
      .type('application/problem+json')
      .send(JSON.stringify({ ...p, ...more }))
  if (error instanceof NotBooked) {
    if (error.effect) {
      send(
        problem(409, 'effect_changed', 'The books moved meanwhile: look at what would happen now, then book again.'),
        { effect: error.effect },
      )
      return
    }
    const fields = error.refusals.map((r: RefusalView) => ({
      line: r.line,
      field: r.field,
      code: r.code,
      message: r.message,
      detail: r.detail,
    }))
    send(problem(422, fields[0]?.code ?? 'refused', fields[0]?.message ?? 'The slip was not booked.', fields))
    return
  }
  if (error instanceof Refused) {
    send(
      problem(
        error.status,
        error.code,
        error.message,
        error.fields.map(f => ({
          line: f.line ?? null,
          field: f.field,
          code: f.code,
          message: f.message,
          detail: f.detail ?? {},
        })),
      ),
    )
    return
  }
  const known = foreseen(error)
  if (known) {
    send(known)
    return
  }
  ;(request as Request & { log?: { error: (o: object, m: string) => void } }).log?.error(
    {
      error: error instanceof Error ? { message: error.message, stack: error.stack } : String(error),
      path: request.path,
    },
    'unforeseen',
  )
  send(problem(500, 'unforeseen', 'Something went wrong inside Shelve; nothing was changed. It is in the log.'))
}

/** Troubles of the machine and of transport that can be named. */
function foreseen(error: unknown): Problem | undefined {
  const e = error as { type?: string; status?: number; code?: string; message?: string }
  if (e.type === 'entity.too.large') return problem(413, 'too_large', 'That is more than Shelve takes at once.')
  if (e.type === 'entity.parse.failed') return problem(400, 'not_json', 'That is not JSON.')
  if (typeof e.type === 'string' && e.status && e.status < 500)
    return problem(e.status, 'bad_request', 'The request cannot be read.')
  if (error instanceof URIError || (e.status && e.status >= 400 && e.status < 500))
    return problem(400, 'bad_request', 'The request cannot be read.')
  if (!(error instanceof SqliteError)) return undefined
  if (e.code === 'SQLITE_FULL')
    return problem(
      507,
      'disk_full',
      'The disk is full. Nothing was booked or changed; make room and try again, your draft is still here.',
    )
  if (e.code?.startsWith('SQLITE_READONLY') || e.code?.startsWith('SQLITE_CANTOPEN'))
    return problem(507, 'disk_read_only', 'The data directory cannot be written to. Nothing was booked or changed.')
  if (e.code?.startsWith('SQLITE_BUSY'))
    return problem(503, 'busy', 'The database is busy. Nothing was changed; try again.')
  if (e.code?.startsWith('SQLITE_IOERR'))
    return problem(507, 'disk_trouble', 'The disk does not answer. Nothing was booked or changed.')
  return undefined
}

/** A list as a file or a paper; its number and day stand in the name, and on the paper at the foot of each page. */
async function sendListing(
  app: App,
  request: Request,
  response: Response,
  caller: Caller,
  listing: Listing,
): Promise<void> {
  const pdf = request.accepts(['csv', 'pdf']) === 'pdf'
  const number = numberOfExport(app, caller, `${pdf ? 'PDF' : 'CSV'} of ${request.originalUrl}`)
  const name = `${listing.name}-${app.today()}${number === null ? '' : `-export-${number}`}`.replace(/[^\w.-]+/g, '-')
  response.setHeader('content-disposition', `attachment; filename="${name}.${pdf ? 'pdf' : 'csv'}"`)
  if (pdf) {
    response
      .status(200)
      .type('application/pdf')
      .end(await listingPdf(app, listing, footOf(app, caller, number)))
    return
  }
  response.status(200).type('text/csv; charset=utf-8')
  for (const line of listing.csv()) response.write(line)
  response.end()
}
