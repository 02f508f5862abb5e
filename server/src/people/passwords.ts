import { createHash } from 'node:crypto'
import { hash, verify } from '@node-rs/argon2'
import { normaliseCode } from '@shelve/core'
import { Refused } from '../ground/index.ts'

/** Argon2id with the parameters OWASP names as a minimum (19 MiB, 2 passes), from memory. */
const STRONG = { memoryCost: 19_456, timeCost: 2, parallelism: 1 }
let effort = STRONG
/** For tests alone, which make thousands of people: how much work a new hash is. What is kept says itself how it was made. */
export function hashWith(other: typeof STRONG): void {
  effort = other
}

export const hashPassword = (password: string): Promise<string> => hash(password, effort)

/** The commonest passwords there are, as they were found in the open: whoever guesses begins with them. Read when first asked for. */
let common: Promise<ReadonlySet<string>> | undefined
async function isCommon(password: string): Promise<boolean> {
  common ??= import('@zxcvbn-ts/language-common').then(m => new Set(m.dictionary.passwords as readonly string[]))
  return (await common).has(password.toLowerCase())
}

/** A new password as it is kept, unless it is one that everybody guesses, or the name one signs in with. */
export async function newPassword(password: string, signIn: string, field = 'password'): Promise<string> {
  const message = (await isCommon(password))
    ? 'This is one of the commonest passwords there are. Take a few words that belong to nobody but you.'
    : signIn &&
        password.toLowerCase().includes(signIn.trim().toLowerCase()) &&
        password.length < signIn.trim().length + 6
      ? 'The name you sign in with makes no password.'
      : undefined
  if (message) throw new Refused(422, 'password_weak', message, [{ field, code: 'password_weak', message }])
  return hashPassword(password)
}

/** That it is oneself who asks: by the password there is. */
export async function demandPassword(known: string, password: string): Promise<void> {
  if (!(await verify(known, password)))
    throw new Refused(403, 'wrong_password', 'That is not your password.', [
      { field: 'password', code: 'wrong_password', message: 'That is not your password.' },
    ])
}

/** How a badge is kept: a hash, since its 64 bits cannot be guessed; whoever reads the database cannot print one. */
export const badgeKey = (badge: string): string =>
  `badge ${createHash('sha256').update(normaliseCode(badge)).digest('hex')}`
