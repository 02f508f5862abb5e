import { ApiProblem, connection } from '../shell/api.ts'
import type { Problem } from '@shelve/contract'

/** Fetches a paper; what the server refuses is thrown as it said it. */
export async function fetchPdf(path: string, body?: unknown): Promise<Blob> {
  let response: Response
  try {
    response = await fetch(path, {
      method: body === undefined ? 'GET' : 'POST',
      headers: { accept: 'application/pdf', ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    })
  } catch {
    connection.value = 'away'
    throw new Error('The server cannot be reached; a paper is drawn there.')
  }
  if (!response.ok) throw new ApiProblem((await response.json()) as Problem)
  return response.blob()
}
