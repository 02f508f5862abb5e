import { createDocument, type ZodOpenApiObject, type ZodOpenApiPathsObject } from 'zod-openapi'
import { z } from 'zod'
import { api } from './api.ts'
import type { Operation } from './operation.ts'
import { Problem } from './common.ts'

const ONCE =
  'a key of one’s own, up to 200 letters (draft-ietf-httpapi-idempotency-key-header): what is asked again under it within a day is answered as it was, and not done again'
const BRIEFLY = '`return=minimal` (RFC 7240): the shorter of the two answers is enough'

/** The OpenAPI 3.1 document, made of the table of operations: there is no second description that could differ. */
export function openApiDocument(version: string): ReturnType<typeof createDocument> {
  const paths: Record<string, Record<string, unknown>> = {}
  for (const [name, o] of Object.entries(api as Record<string, Operation>)) {
    const path = o.path.replace(/:(\w+)/g, '{$1}')
    const problem = {
      description: 'Refused: what is so, and where',
      content: { 'application/problem+json': { schema: Problem } },
    }
    const answer =
      o.status === 204
        ? { description: 'Done' }
        : {
            description: 'Done',
            content: {
              ...(o.answer instanceof z.ZodUndefined
                ? {}
                : { 'application/json': { schema: o.brief ? z.union([o.answer, o.brief]) : o.answer } }),
              ...(o.binary ? { [o.binary]: { schema: z.string().meta({ format: 'binary' }) } } : {}),
              ...(o.pdf ? { 'application/pdf': { schema: z.string().meta({ format: 'binary' }) } } : {}),
              ...(o.csv ? { 'text/csv': { schema: z.string() } } : {}),
            },
          }
    ;(paths[path] ??= {})[o.method] = {
      operationId: name,
      summary: o.summary,
      ...(o.right === 'none' ? { security: [] } : {}),
      requestParams: {
        ...(path.includes('{') ? { path: o.params } : {}),
        query: o.query,
        ...(o.ifMatch || o.brief || o.once
          ? {
              header: z.object({
                ...(o.ifMatch ? { 'if-match': z.string().optional() } : {}),
                ...(o.once ? { 'idempotency-key': z.string().optional().meta({ description: ONCE }) } : {}),
                ...(o.brief ? { prefer: z.string().optional().meta({ description: BRIEFLY }) } : {}),
              }),
            }
          : {}),
      },
      ...(o.upload.length
        ? {
            requestBody: {
              required: true,
              content: Object.fromEntries(o.upload.map(t => [t, { schema: z.string().meta({ format: 'binary' }) }])),
            },
          }
        : o.body instanceof z.ZodUndefined
          ? {}
          : { requestBody: { required: true, content: { 'application/json': { schema: o.body } } } }),
      responses: { [o.status]: answer, '4XX': problem },
    }
  }
  const document: ZodOpenApiObject = {
    openapi: '3.1.1',
    info: {
      title: 'Shelve',
      version,
      description:
        'A stockroom ledger. Exact amounts are decimal strings; errors are problem documents by RFC 9457 with a stable code.',
    },
    servers: [{ url: '/', description: 'The server that this document came from' }],
    paths: paths as ZodOpenApiPathsObject,
    security: [{ session: [] }, { sessionOverTls: [] }, { script: [] }],
    components: {
      securitySchemes: {
        session: { type: 'apiKey', in: 'cookie', name: 'shelve', description: 'Where the server speaks plain HTTP' },
        sessionOverTls: { type: 'apiKey', in: 'cookie', name: '__Host-shelve', description: 'Over TLS' },
        script: { type: 'http', scheme: 'bearer', description: 'The same token, for scripts' },
      },
    },
  }
  return createDocument(document)
}
