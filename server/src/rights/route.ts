import type { Request, Response } from 'express'
import type { z } from 'zod'
import type { Api, Operation } from '@shelve/contract'
import { allPages, FIRST_PIECE, nextPiece } from '../ground/index.ts'
import type { Caller } from './roles.ts'

/** Who asks, and from where. */
export interface Asking {
  readonly caller: Caller | undefined
  /** The network address that the request came from. */
  readonly address: string
  /** What the browser calls itself. */
  readonly device: string
}
/** Somebody who is signed in, and from where they ask. */
export type KnownAsking = Asking & { readonly caller: Caller }
/** Nobody over the network: what the program does by itself. */
export const NOBODY: Asking = { caller: undefined, address: '', device: '' }
/** What a use case is handed: all of it read by the contract's schemas, and whoever asks. */
export interface Input<O extends Operation> {
  readonly params: z.output<O['params']>
  readonly query: z.output<O['query']>
  readonly body: z.output<O['body']>
  readonly caller: Caller
  readonly revision: number | undefined
  /** Whether rows are wanted as a file (CSV or PDF) instead of JSON. */
  readonly csv: boolean
  /** The session it is asked in. */
  readonly token: string | undefined
  /** What the browser calls itself. */
  readonly device: string
  /** The network address it came from. */
  readonly address: string
  /** Whether it came over TLS. */
  readonly secure: boolean
  /** The file that came as its body, where the operation takes one. */
  readonly upload: Uint8Array | undefined
  /** The answer sets a cookie. */
  readonly setCookie: (cookie: string) => void
}

/** An answer that is no JSON: a list as a file, a paper, a picture. */
export abstract class Sent {
  abstract send(to: {
    readonly request: Request
    readonly response: Response
    readonly caller: Caller
  }): Promise<void> | void
}
/** A file as it is. */
export class Bytes extends Sent {
  constructor(
    readonly name: string,
    readonly bytes: Uint8Array,
    readonly type = 'application/pdf',
  ) {
    super()
  }
  send({ response }: { readonly response: Response }): void {
    response
      .status(200)
      .type(this.type)
      .setHeader('content-disposition', `inline; filename="${this.name}"`)
      .end(this.bytes)
  }
}

/**
 * An answer that can be taken out as a file too: `list` makes it of the answer as the caller may have it. Where it is the
 * first page of many, `page` gives the one at a cursor; they are asked for one after the other, others being let in between.
 */
export class Listable<A> {
  readonly #list: unknown
  readonly #page: unknown
  constructor(
    readonly answer: A,
    list: (answer: A, page: (cursor: string) => Promise<A>) => Sent,
    page?: (cursor: string) => Promise<A>,
  ) {
    this.#list = list
    this.#page = page
  }
  /** `shown` takes from an answer what the caller may not see. */
  list(answer: A, shown: (answer: A) => A): Sent {
    const page = this.#page as ((cursor: string) => Promise<A>) | undefined
    const next = async (cursor: string) => {
      if (!page) throw new Error('this list has one page')
      return shown(await page(cursor))
    }
    return (this.#list as (answer: A, page: (cursor: string) => Promise<A>) => Sent)(answer, next)
  }
}

/** So many lines of a long list are worked out at once at most, where all of it is taken out. */
const PIECE = 150
/** A list by pages, or all of it as a file, page after page. */
export async function paged<Q extends { cursor?: string | undefined; limit?: number | undefined }, T>(
  csv: boolean,
  query: Q,
  page: (q: Q) => Page<T> | Promise<Page<T>>,
  list: (rows: AsyncIterable<T>) => Sent,
  most = PIECE,
): Promise<Listable<Page<T>>> {
  let piece = Math.min(FIRST_PIECE, most)
  const at = async (cursor?: string) => {
    const began = performance.now()
    const made = await page({ ...query, cursor, limit: piece })
    piece = nextPiece(piece, performance.now() - began, most)
    return made
  }
  return new Listable(csv ? await at() : await page(query), (first, more) => list(allPages(first, more)), at)
}
interface Page<T> {
  rows: T[]
  next: string | null
  total: number | null
}

type Answer<O extends Operation> = z.input<O['answer']> | Listable<z.input<O['answer']>> | Sent
/** Answers a request with the operation's answer, or with something that is sent otherwise. */
export type Whole<O extends Operation> = (input: Input<O>) => Answer<O> | Promise<Answer<O>>
/**
 * A use case in two steps: what is written, wherever that is done, then what is answered, read where answers are read. What
 * the first hands to the second crosses between threads.
 */
export interface InSteps<O extends Operation> {
  readonly does: (input: Input<O>) => unknown
  readonly shows: (made: never, caller: Caller) => Answer<O> | Promise<Answer<O>>
  /** What is answered instead to whoever prefers little. */
  readonly briefly?: (made: never, caller: Caller) => z.input<NonNullable<O['brief']>>
}
export type Handler<O extends Operation> = Whole<O> | InSteps<O>
/** A handler for each operation of the contract: rooms bring their own, compose puts them together. */
export type Handlers = { readonly [K in keyof Api]: Handler<Api[K]> }
