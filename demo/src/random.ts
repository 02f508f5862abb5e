/** Numbers that look random and are the same for the same seed (mulberry32). */
export class Random {
  #state: number
  constructor(seed: number) {
    this.#state = seed >>> 0
  }
  next(): number {
    this.#state = (this.#state + 0x6d2b79f5) >>> 0
    let t = this.#state
    t = Math.imul(t ^ (t >>> 15), t | 1)
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296
  }
  int(from: number, to: number): number {
    return from + Math.floor(this.next() * (to - from + 1))
  }
  pick<T>(of: readonly T[]): T {
    return of[Math.floor(this.next() * of.length)]!
  }
  chance(p: number): boolean {
    return this.next() < p
  }
  some<T>(of: readonly T[], n: number): T[] {
    return [...of]
      .map(x => ({ x, k: this.next() }))
      .sort((a, b) => a.k - b.k)
      .slice(0, n)
      .map(e => e.x)
  }
}
