import { Refused } from '../ground/index.ts'

/** So many wrong tries by one name within so long (ms), whatever addresses they come from; then none is looked at until the first of them is that old. */
const WRONG = 10
const WITHIN = 15 * 60_000
/** So many names are remembered at most: the oldest goes, so that inventing names fills no memory. */
const NAMES = 10_000

/**
 * Tries to show who one is, counted by name. Asked before anything is hashed, so that guessing costs the server nothing; by
 * address the door counts beside it, before it reads a body. Kept in memory: whoever starts the server anew begins anew.
 */
export class Attempts {
  readonly #wrong = new Map<string, number[]>()
  constructor(readonly now: () => number) {}

  /** Lets one more try by a name be made; refused where there were too many wrong ones. One that comes right forgets those before. */
  async of<T>(name: string, attempt: () => Promise<T>): Promise<T> {
    const now = this.now()
    const lately = (this.#wrong.get(name) ?? []).filter(at => now - at < WITHIN)
    if (lately.length >= WRONG) {
      const minutes = Math.ceil((lately[0]! + WITHIN - now) / 60_000)
      throw new Refused(
        429,
        'too_many_attempts',
        `That was wrong ${WRONG} times. Try again in ${minutes === 1 ? 'a minute' : `${minutes} minutes`}, or ask a manager for a new password.`,
      )
    }
    // It counts as wrong until it is right: tries beside each other are counted before any of them is answered.
    lately.push(now)
    this.#wrong.delete(name)
    this.#wrong.set(name, lately)
    if (this.#wrong.size > NAMES) this.#wrong.delete(this.#wrong.keys().next().value!)
    const made = await attempt()
    this.#wrong.delete(name)
    return made
  }
}
