import type { Request, Response } from 'express'
import type { Problem } from '@shelve/contract'
import { Refused } from '../refused.ts'
import { SqliteError } from './sqlite.ts'

export const problem = (status: number, code: string, detail: string, fields: Problem['fields'] = []): Problem => ({
  type: `urn:shelve:problem:${code}`,
  title: code.replaceAll('_', ' '),
  status,
  code,
  detail,
  fields,
})

/** Whatever went wrong, as a problem document; of what nobody foresaw, what the log is to say of it. */
export interface Trouble {
  readonly problem: Problem
  readonly unforeseen?: unknown
}
/** Turns whatever went wrong into a problem document, which says nothing of the inside. */
export function troubleOf(error: unknown): Trouble {
  if (error instanceof Refused) {
    const fields = error.fields.map(f => ({
      line: f.line ?? null,
      field: f.field,
      code: f.code,
      message: f.message,
      detail: f.detail ?? {},
    }))
    return { problem: { ...problem(error.status, error.code, error.message, fields), ...error.more } }
  }
  const known = foreseen(error)
  if (known) return { problem: known }
  return {
    problem: problem(500, 'unforeseen', 'Something went wrong inside Shelve; nothing was changed. It is in the log.'),
    unforeseen: error instanceof Error ? { message: error.message, stack: error.stack } : String(error),
  }
}
/** What was asked for was done, and only what came of it could not be read: nobody may take that for a refusal. */
export function notTold(trouble: Trouble): Trouble {
  const detail =
    'This was done; what came of it could not be read just now. Look at what is there before you ask for it anew.'
  return trouble.problem.status === 401 ? trouble : { ...trouble, problem: problem(500, 'not_told', detail) }
}
export const sendProblem = (response: Response, error: unknown, request: Request): void =>
  sendTrouble(response, troubleOf(error), request)
/**
 * Answers with a problem document; what nobody foresaw is logged. An answer that is on its way already is broken off, so
 * that nobody takes a part of a list for all of it.
 */
export function sendTrouble(response: Response, { problem: p, unforeseen }: Trouble, request: Request): void {
  if (unforeseen !== undefined)
    (request as Request & { log?: { error: (o: object, m: string) => void } }).log?.error(
      { error: unforeseen, path: request.path },
      'unforeseen',
    )
  if (response.headersSent) {
    response.destroy()
    return
  }
  response.status(p.status).type('application/problem+json').send(JSON.stringify(p))
}

/** The disk, one's share of it, or the largest file that one may write is full. */
const NO_ROOM = new Set(['ENOSPC', 'EDQUOT', 'EFBIG'])

/** Troubles of the machine and of transport that can be named. */
function foreseen(error: unknown): Problem | undefined {
  const e = error as { type?: string; status?: number; code?: string; message?: string }
  if (e.type === 'entity.too.large') return problem(413, 'too_large', 'That is more than Shelve takes at once.')
  if (e.type === 'entity.parse.failed') return problem(400, 'not_json', 'That is not JSON.')
  if (typeof e.type === 'string' && e.status && e.status < 500)
    return problem(e.status, 'bad_request', 'The request cannot be read.')
  if (e.status === 404) return problem(404, 'not_found', 'There is nothing under that address.')
  if (error instanceof URIError || (e.status && e.status >= 400 && e.status < 500))
    return problem(400, 'bad_request', 'The request cannot be read.')
  // Of a file beside the database the system speaks, of the database its driver.
  if (e.code === 'SQLITE_FULL' || NO_ROOM.has(e.code ?? ''))
    return problem(
      507,
      'disk_full',
      'The disk is full. Nothing was booked or changed; make room and try again, your draft is still here.',
    )
  if (e.code === 'EROFS' || e.code === 'EACCES' || e.code === 'EPERM')
    return problem(507, 'disk_read_only', 'The data directory cannot be written to. Nothing was booked or changed.')
  // Who was answered while the server was being stopped.
  if (error instanceof TypeError && e.message === 'The database connection is not open')
    return problem(503, 'stopping', 'Shelve is being stopped here. Nothing was changed; ask again when it is back.')
  if (e.code === 'EIO') return problem(507, 'disk_trouble', 'The disk does not answer. Nothing was booked or changed.')
  if (!(error instanceof SqliteError)) return undefined
  if (e.code?.startsWith('SQLITE_READONLY') || e.code?.startsWith('SQLITE_CANTOPEN'))
    return problem(507, 'disk_read_only', 'The data directory cannot be written to. Nothing was booked or changed.')
  if (e.code?.startsWith('SQLITE_BUSY'))
    return problem(503, 'busy', 'The database is busy. Nothing was changed; try again.')
  if (e.code?.startsWith('SQLITE_IOERR'))
    return problem(507, 'disk_trouble', 'The disk does not answer. Nothing was booked or changed.')
  return undefined
}
