import express, { type Express, type Request, type Response } from 'express'
import { rateLimit } from 'express-rate-limit'
import type { House } from './compose.ts'
import { PICTURE_TYPES, problem } from './ground/index.ts'
import { callerOf, tokenOf } from './people/index.ts'

/** What a stranger may send: a name and a password, or what the first run asks. */
const STRANGERS = 20_000
/** What anybody may send at once, but for pictures. */
const LONGEST = 1_048_576
/** So many pictures come in at the same time; each is held in memory until it is whole. */
const UPLOADS = 6

/**
 * What is decided before a body is read: how often an address may try to show who it is, and that nobody but whoever is
 * signed in sends anything long.
 */
export function beforeBodies(http: Express, house: House, signInsPerMinute = 20): void {
  const refuse = (response: Response, status: number, code: string, detail: string) =>
    response
      .status(status)
      .type('application/problem+json')
      .send(JSON.stringify(problem(status, code, detail)))
  const attempts = rateLimit({
    windowMs: 60_000,
    limit: signInsPerMinute,
    skip: r => r.method !== 'POST' && r.method !== 'PUT',
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    validate: false,
    handler: (_q, s) => refuse(s, 429, 'too_many_attempts', 'Too many attempts. Wait a minute, then try again.'),
  })
  http.use(['/api/session', '/api/start'], attempts)
  http.use('/api/start', (request, response, next) => {
    if (request.method !== 'POST') return next()
    house.moveOn()
    if (!house.organisation) return next()
    return refuse(response, 409, 'already_set_up', 'There is an organisation already. Sign in instead.')
  })
  const known = (request: Request) => {
    house.moveOn()
    return callerOf(house, tokenOf(request)) !== undefined
  }
  let uploads = 0
  const pictures = express.raw({ type: PICTURE_TYPES, limit: '8mb' })
  http.use('/api/pictures', (request, response, next) => {
    if (request.method !== 'POST') return next()
    if (!known(request)) return refuse(response, 401, 'not_signed_in', 'Sign in first.')
    if (uploads >= UPLOADS) {
      response.setHeader('retry-after', '2')
      return refuse(response, 503, 'busy', 'Several pictures are coming in already. Try again in a moment.')
    }
    uploads++
    response.once('close', () => uploads--)
    pictures(request, response, next)
  })
  const long = express.json({ limit: LONGEST, strict: false })
  const short = express.json({ limit: STRANGERS, strict: false })
  http.use((request, response, next) => {
    if (request.method === 'GET' || request.method === 'HEAD') return next()
    // A picture has been read.
    if (Buffer.isBuffer(request.body)) return next()
    const length = request.headers['transfer-encoding'] ? Infinity : Number(request.headers['content-length'] ?? 0)
    // Anybody may send what is short: who it is is asked once, where it is done.
    if (length <= STRANGERS) return short(request, response, next)
    const stranger = !known(request)
    // A reader of bodies would first wait for all of what it is not going to read.
    if (Number.isFinite(length) && length > (stranger ? STRANGERS : LONGEST)) {
      response.setHeader('connection', 'close')
      return refuse(response, 413, 'too_large', 'That is more than Shelve takes at once.')
    }
    ;(stranger ? short : long)(request, response, next)
  })
}
