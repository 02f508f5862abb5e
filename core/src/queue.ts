/**
 * What comes first, again and again, of things that come and go: a binary heap (common practice; taking one of n is log n).
 * Of two that are equal the one that came earlier is first.
 */
export class Queue<T> {
  readonly #heap: { readonly it: T; readonly came: number }[] = []
  readonly #before: (a: T, b: T) => number
  #came = 0

  /** `before`: below 0 where the first of two comes first. */
  constructor(before: (a: T, b: T) => number) {
    this.#before = before
  }

  add(it: T): void {
    this.#heap.push({ it, came: this.#came++ })
    this.#up(this.#heap.length - 1)
  }

  first(): T | undefined {
    return this.#heap[0]?.it
  }

  /** The first has become another, later one: it takes its new place, as it came at the beginning. */
  again(): void {
    this.#down(0)
  }

  /** Takes the first out. */
  take(): T | undefined {
    const first = this.#heap[0]
    const last = this.#heap.pop()
    if (first && last && first !== last) {
      this.#heap[0] = last
      this.#down(0)
    }
    return first?.it
  }

  #less(a: number, b: number): boolean {
    const [x, y] = [this.#heap[a]!, this.#heap[b]!]
    return (this.#before(x.it, y.it) || x.came - y.came) < 0
  }

  #swap(a: number, b: number): void {
    const x = this.#heap[a]!
    this.#heap[a] = this.#heap[b]!
    this.#heap[b] = x
  }

  #up(at: number): void {
    for (let i = at; i > 0;) {
      const above = (i - 1) >> 1
      if (!this.#less(i, above)) return
      this.#swap(i, above)
      i = above
    }
  }

  #down(at: number): void {
    for (let i = at; ;) {
      const left = 2 * i + 1
      if (left >= this.#heap.length) return
      const low = left + 1 < this.#heap.length && this.#less(left + 1, left) ? left + 1 : left
      if (!this.#less(low, i)) return
      this.#swap(i, low)
      i = low
    }
  }
}
