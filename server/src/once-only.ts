import { and, eq, lt } from 'drizzle-orm'
import type { Operation } from '@shelve/contract'
import { allowed, type Answered, type Asked } from './asked.ts'
import type { House } from './compose.ts'
import { askedOnce, notTold, once, Refused, sha256, troubleOf } from './ground/index.ts'

/** So long what was answered is kept for whoever asks again (ms): a day. */
const KEPT = 86_400_000

/** What is being done just now, by who asked and under which key. */
const underWay = once(() => new Map<string, { readonly asked: string; readonly answer: Promise<Answered> }>())

/** The key as the header gives it: a string of a structured field (RFC 8941, 3.3.3), or bare. */
function keyOf(header: string): string {
  const text = header.trim()
  const key = /^"((?:[^"\\]|\\["\\])*)"$/.exec(text)?.[1]?.replace(/\\(.)/g, '$1') ?? text
  if (!/^[\x20-\x7e]{1,200}$/.test(key) || (key === text && text.includes('"')))
    throw new Refused(400, 'bad_key', 'Idempotency-Key takes 1 to 200 plain letters, in quotation marks or bare.')
  return key
}

/**
 * Does what is asked under a key once: asked again, by the same person within a day, it is answered as it was the first time,
 * and nothing is done; where an answer is read of what was made, it is read anew. That it was asked is written in the
 * transaction of what is done, so that an end in the midst of it leaves both or neither; where the answer did not come to be
 * kept, that is said. What was refused is not kept: it did nothing. Source: draft-ietf-httpapi-idempotency-key-header, which answers 422 where a key stands for something else.
 */
export async function onceOnly(
  house: House,
  operation: Operation,
  asked: Asked,
  does: () => Promise<Answered>,
): Promise<Answered> {
  if (asked.key === undefined || !operation.once) return does()
  try {
    const { uid: person } = allowed(house, asked, operation)
    const key = keyOf(asked.key)
    const { params, query, body, ifMatch, upload } = asked
    const what = sha256(
      JSON.stringify(
        [
          operation.method,
          operation.path,
          params,
          query,
          body,
          ifMatch,
          upload && Buffer.from(upload).toString('base64'),
        ].map(x => x ?? null),
      ),
    )
    const name = JSON.stringify([person, key])
    const before = underWay(house).get(name) ?? answeredBefore(house, person, key)
    if (before && before.asked !== what)
      throw new Refused(422, 'key_used', 'Something else was asked under this key before. Use a new one.')
    if (before) return await before.answer
    const answer = keeping(house, { person, key, asked: what }, does)
    underWay(house).set(name, { asked: what, answer })
    return await answer.finally(() => underWay(house).delete(name))
  } catch (error) {
    return { trouble: troubleOf(error) }
  }
}

const here = (person: string, key: string) => and(eq(askedOnce.person, person), eq(askedOnce.key, key))

/** What was asked under a key, and what was answered to it. */
function answeredBefore(house: House, person: string, key: string) {
  const row = house.db.select().from(askedOnce).where(here(person, key)).get()
  if (!row || row.at < house.now() - KEPT) return undefined
  const { asked, status, json } = row
  return { asked, answer: Promise.resolve(toldAgain(status, json)) }
}
/** What is answered to whoever asks again, of what its row says. */
function toldAgain(status: number | null, json: string | null): Answered {
  if (status !== null) return { status, json: json ?? undefined, cookie: undefined }
  if (json !== null) return { made: (JSON.parse(json) as { made?: unknown }).made }
  const lost =
    'This was done when it was asked before, but what was answered is not known any more. Look at what is there before you ask for it anew.'
  return { trouble: troubleOf(new Refused(409, 'answer_lost', lost)) }
}

async function keeping(
  house: House,
  row: { readonly person: string; readonly key: string; readonly asked: string },
  does: () => Promise<Answered>,
): Promise<Answered> {
  const at = house.now()
  house.db
    .delete(askedOnce)
    .where(lt(askedOnce.at, at - KEPT))
    .run()
  const mark = (more: { status: number | null; json: string | null }) =>
    house.db.insert(askedOnce).values({ ...row, at, ...more })
  // What goes on in the background when it is answered begins within it as well, and is no part of it.
  let answered = false
  const first = () => {
    if (!answered) mark({ status: null, json: null }).onConflictDoNothing().run()
  }
  const answer = await house.beginningWith(first, does)
  answered = true
  if ('trouble' in answer) {
    // It says of itself whether it was done: where no fault was foreseen, the trouble came after it.
    const done = answer.trouble.problem.status >= 500 && answeredBefore(house, row.person, row.key)
    return done ? { trouble: notTold(answer.trouble) } : answer
  }
  try {
    const told =
      'made' in answer
        ? { status: null, json: JSON.stringify({ made: answer.made }) }
        : { status: answer.status, json: answer.json ?? null }
    mark(told)
      .onConflictDoUpdate({ target: [askedOnce.person, askedOnce.key], set: told })
      .run()
  } catch {
    // It is done, and whoever asked is told so; only whoever asks again is told that the answer is not known.
  }
  return answer
}
