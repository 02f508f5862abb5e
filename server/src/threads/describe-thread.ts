import { parentPort } from 'node:worker_threads'
import { openApiDocument } from '@shelve/contract/openapi'
import { VERSION } from '../ground/index.ts'

/** The description of the API, as JSON: making it takes a while, and nobody else is to wait for it. */
parentPort!.postMessage(JSON.stringify(openApiDocument(VERSION)))
