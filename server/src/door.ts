import { existsSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import { createServer as createSecureServer } from 'node:https'
import { join } from 'node:path'
import { Worker } from 'node:worker_threads'
import compression from 'compression'
import express, { type Express, type NextFunction, type Request, type Response } from 'express'
import helmet from 'helmet'
import { type Logger, pino } from 'pino'
import { type Api, api, PUT_BACK_HEADER } from '@shelve/contract'
import { wantCaller } from './asked.ts'
import { beforeBodies } from './before-bodies.ts'
import { bind } from './bind.ts'
import type { House } from './compose.ts'
import {
  asDer,
  type Concerns,
  doorway,
  keepRenewed,
  problem,
  Refused,
  SECURE,
  sendProblem,
  sendText,
  threadNamed,
  type TlsOptions,
  toRecognise,
} from './ground/index.ts'
import { handlersOf } from './handlers.ts'
import { ledgerCsv, ledgerJournal, ledgerJsonLines } from './ledger/index.ts'
import { callerOf, tokenOf } from './people/index.ts'
import { type Caller, demandEverywhere, reach } from './rights/index.ts'
import type { Reached } from './routes.ts'
import type { Writer } from './writer.ts'

export interface ServerOptions {
  readonly web?: string
  readonly secure?: boolean
  readonly log?: Logger
  readonly signInsPerMinute?: number
  readonly tls?: TlsOptions
  /** Addresses and networks of proxies before this server, whose word on who asks and over what is believed. */
  readonly proxies?: readonly string[]
  /** Whoever writes, where this house only reads. */
  readonly writer?: Writer
}

/** The whole HTTP face of a house: API, event stream, exports, and the built interface. */
export function expressApp(house: House, options: ServerOptions = {}): Express {
  const http = express()
  const secure = options.secure ?? options.tls !== undefined
  const log = options.log ?? pino({ level: 'silent' })
  http.disable('x-powered-by')
  // Answers of the API are never kept: nobody asks whether one is still the same.
  http.set('etag', false)
  http.set('query parser', 'simple')
  if (options.proxies?.length) http.set('trust proxy', [...options.proxies])
  http.use((request, response, next) => {
    ;(request as Request & { log: Logger }).log = log
    logged(log, request, response, next)
  })
  // On a local network without TLS a browser would refuse to load what helmet's defaults upgrade.
  http.use(
    helmet({
      // Never HSTS: it would shut the plain door by which a new tablet comes in.
      strictTransportSecurity: false,
      crossOriginOpenerPolicy: secure,
      originAgentCluster: false,
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          workerSrc: ["'self'"],
          objectSrc: ["'none'"],
          baseUri: ["'none'"],
          frameAncestors: ["'none'"],
          formAction: ["'self'"],
        },
      },
    }),
  )
  http.use(
    compression({
      filter: (request, response) =>
        !String(response.getHeader('content-type') ?? '').startsWith('text/event-stream') &&
        compression.filter(request, response),
    }),
  )
  http.use('/api', sameOrigin, (_request, response, next) => {
    response.setHeader('cache-control', 'no-store')
    // What a screen knows of others than these records it knows of none of them, whatever it asks for.
    const { putBack } = house.events
    if (putBack) response.setHeader(PUT_BACK_HEADER, putBack.at)
    next()
  })
  beforeBodies(http, house, options.signInsPerMinute)
  const handlers = handlersOf(house, reached(options.tls))
  // Routes are tried one after the other: what is asked with each key and each booking stands first.
  const often = (name: keyof Api) => Number(api[name].path.startsWith('/api/slips/'))
  for (const name of (Object.keys(api) as (keyof Api)[]).sort((a, b) => often(b) - often(a)))
    bind(http, house, name, api[name], handlers[name] as never, options.writer)
  const authority = options.tls?.certificates.authority
  if (authority)
    http.get('/authority.crt', (_request, response) => {
      response
        .type('application/x-x509-ca-cert')
        .setHeader('content-disposition', 'attachment; filename="shelve-authority.crt"')
        .end(asDer(authority))
    })
  streams(http, house)
  http.use('/api', (_request, response) => {
    response
      .status(404)
      .type('application/problem+json')
      .send(JSON.stringify(problem(404, 'not_found', 'There is nothing under that address.')))
  })
  if (options.web && existsSync(options.web)) site(http, options.web)
  http.use((request, response) =>
    sendProblem(response, new Refused(404, 'not_found', 'There is nothing under that address.'), request),
  )
  http.use((error: unknown, request: Request, response: Response, _next: NextFunction) =>
    sendProblem(response, error, request),
  )
  return http
}

/** How tablets reach this server, for the page that says so. */
const reached = (tls: TlsOptions | undefined): Reached => ({
  kind: tls?.kind ?? 'off',
  names: [...(tls?.names ?? [])],
  plainPort: tls?.plainPort ?? null,
  authority: tls?.certificates.authority ? toRecognise(tls.certificates.authority) : null,
})

/** One line a request, without bodies, cookies or query strings: no secret reaches the log. */
function logged(log: Logger, request: Request, response: Response, next: NextFunction): void {
  if (!log.isLevelEnabled('info')) return next()
  const began = process.hrtime.bigint()
  response.on('finish', () =>
    log.info(
      {
        method: request.method,
        path: request.path.slice(0, 200),
        status: response.statusCode,
        ms: Number((process.hrtime.bigint() - began) / 10_000n) / 100,
      },
      'request',
    ),
  )
  next()
}

/** What another site makes a browser send is refused, beside the cookie's SameSite. */
function sameOrigin(request: Request, response: Response, next: NextFunction): void {
  const origin = request.headers.origin
  if (request.method === 'GET' || request.method === 'HEAD' || origin === undefined) return next()
  let host: string | undefined
  try {
    host = new URL(origin).host
  } catch {
    host = undefined
  }
  if (host === request.headers.host) return next()
  response
    .status(403)
    .type('application/problem+json')
    .send(JSON.stringify(problem(403, 'other_origin', 'That request comes from another site.')))
}

/** Whether an event is for somebody: where they may look something happened, or they did it themselves. */
function concerns(house: House, caller: Caller): (of: Concerns) => boolean {
  const { within } = reach(house, caller)
  return ({ places, by }) =>
    places === undefined || !within || by === caller.uid || places.some(p => within.has(house.places.id(p) ?? -1))
}

/** What is no JSON: the event stream, the ledger in open formats, the description of the API. */
function streams(http: Express, house: House): void {
  const signedIn =
    (handler: (request: Request, response: Response, caller: Caller) => void) =>
    (request: Request, response: Response) => {
      try {
        house.moveOn()
        const caller = wantCaller(house, tokenOf(request))
        if (request.path.startsWith('/api/ledger')) demandEverywhere(house, caller, 'see_value')
        handler(request, response, caller)
      } catch (e) {
        sendProblem(response, e, request)
      }
    }
  let described: Promise<string> | undefined
  http.get('/api/openapi.json', (request, response) => {
    // Made once: it says the same of every request.
    described ??= description()
    described.then(
      text => response.type('json').send(text),
      (e: unknown) => {
        described = undefined
        sendProblem(response, e, request)
      },
    )
  })
  http.get(
    '/api/events',
    signedIn((request, response, caller) => {
      const after = Number(request.headers['last-event-id'] ?? request.query.after)
      const token = tokenOf(request)
      if (house.events.full(caller.session))
        throw new Refused(
          429,
          'too_many_streams',
          'Too many screens of one browser are being told of what happens. Close some.',
        )
      house.events.open(response, Number.isSafeInteger(after) && after >= 0 ? after : undefined, {
        session: caller.session,
        now: () => {
          const still = callerOf(house, token)
          return still && still.id === caller.id ? concerns(house, still) : undefined
        },
      })
    }),
  )
  const file = (path: string, type: string, name: string, chunks: (a: House) => Generator<string>) =>
    http.get(
      path,
      signedIn((request, response) => {
        response.status(200).type(type).setHeader('content-disposition', `attachment; filename="${name}"`)
        sendText(response, chunks(house)).catch((e: unknown) => sendProblem(response, e, request))
      }),
    )
  file('/api/ledger.csv', 'text/csv; charset=utf-8', 'ledger.csv', ledgerCsv)
  file('/api/ledger.jsonl', 'application/jsonl; charset=utf-8', 'ledger.jsonl', ledgerJsonLines)
  file('/api/ledger.journal', 'text/plain; charset=utf-8', 'ledger.journal', ledgerJournal)
}

/** The description of the API, made in a thread: it takes a while, and others are not to wait for it. */
const description = (): Promise<string> =>
  new Promise((ok, no) => {
    const worker = new Worker(threadNamed('describe'))
    worker.once('message', ok)
    worker.once('error', no)
  })

function site(http: Express, web: string): void {
  http.use('/assets', express.static(join(web, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }))
  http.use(express.static(web, { index: false, maxAge: 0 }))
  http.get('/{*path}', (request, response, next) => {
    // A file that is not there is not the interface: a tab that is older than the server must see that it is.
    if (/\.[a-z0-9]{2,11}$/i.test(request.path)) return next()
    response.setHeader('cache-control', 'no-cache')
    response.sendFile(join(web, 'index.html'))
  })
}

export interface Running {
  readonly server: Server
  readonly port: number
  readonly plainPort: number | null
  readonly stop: () => Promise<void>
}

/** Listens; `stop` lets running requests end (for two seconds at most), closes streams, then the database. */
export function serve(house: House, port: number, host: string, options: ServerOptions = {}): Promise<Running> {
  const { tls } = options
  const handler = expressApp(house, options)
  const secureServer =
    tls && createSecureServer({ ...SECURE, cert: tls.certificates.cert, key: tls.certificates.key }, handler)
  const server: Server = secureServer ?? createServer(handler)
  // Whoever sends half a request is not waited for longer than a tablet takes for a picture over a bad network.
  server.requestTimeout = 120_000
  // Longer than anybody keeps a connection for the next request: who asks just as it is closed is asked to try again.
  server.keepAliveTimeout = 75_000
  if (secureServer)
    keepRenewed(secureServer, tls, why =>
      options.log?.warn({ error: why }, 'the certificate is not renewed: the one there is goes on until it ends'),
    )
  let door: Server | undefined
  let running = 0
  server.on('request', (_request, response) => {
    running++
    response.once('close', () => {
      running--
    })
  })
  const stop = () =>
    new Promise<void>(done => {
      house.events.close()
      door?.close()
      door?.closeAllConnections()
      const began = Date.now()
      // Browsers connect ahead of asking: such connections count as busy, so they are closed once nothing runs.
      const waiting = setInterval(() => {
        if (running === 0 || Date.now() - began > 2000) server.closeAllConnections()
      }, 20)
      server.close(() => {
        clearInterval(waiting)
        house.close()
        void (options.writer?.stop() ?? Promise.resolve()).then(done)
      })
    })
  return new Promise((ok, no) => {
    server.once('error', no)
    server.listen(port, host, () => {
      const bound = (s: Server, else_: number) => {
        const a = s.address()
        return typeof a === 'object' && a ? a.port : else_
      }
      const own = bound(server, port)
      if (!tls?.certificates.authority || tls.plainPort === null) {
        ok({ server, port: own, plainPort: null, stop })
        return
      }
      door = doorway(tls.certificates.authority, () => house.organisation?.name ?? 'Shelve', own)
      door.once('error', no)
      door.listen(tls.plainPort, host, () => ok({ server, port: own, plainPort: bound(door!, tls.plainPort!), stop }))
    })
  })
}
