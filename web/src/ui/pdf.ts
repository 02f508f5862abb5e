import { ask } from '../shell/api.ts'

/** Fetches a paper; what the server refuses is thrown as it said it. */
export const fetchPdf = (path: string, body?: unknown): Promise<Blob> =>
  ask(
    path,
    {
      method: body === undefined ? 'GET' : 'POST',
      headers: { accept: 'application/pdf', ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    },
    answer => answer.blob(),
    () => 'The server cannot be reached; a paper is drawn there.',
  )
