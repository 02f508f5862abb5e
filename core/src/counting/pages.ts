/** A row of a page of a count sheet: the bin that follows, a line to count, or room for something that is not on it. */
export type PageRow<L> =
  | { readonly kind: 'bin'; readonly name: string; readonly continued: boolean }
  | { readonly kind: 'line'; readonly line: L }
  | { readonly kind: 'blank' }

/**
 * Divides the lines of an area, in walking order, into pages of at most `room` rows. The name of a bin stands above its
 * first line and again, as continued, at the top of a page that begins within it; it never stands last on a page. After
 * the last line come `blanks` empty rows under a heading without a name. There is always at least one page.
 */
export function inPages<L>(
  lines: readonly L[],
  binOf: (line: L) => string,
  room: number,
  blanks: number,
): PageRow<L>[][] {
  const pages: PageRow<L>[][] = [[]]
  const put = (head: string | undefined, continued: string | undefined, row: PageRow<L>) => {
    const needed = head === undefined ? 1 : 2
    if (pages.at(-1)!.length + needed > room) {
      pages.push([])
      head ??= continued
    }
    const page = pages.at(-1)!
    if (head !== undefined) page.push({ kind: 'bin', name: head, continued: head === continued })
    page.push(row)
  }
  let bin: string | undefined
  for (const line of lines) {
    const own = binOf(line)
    put(own === bin ? undefined : own, bin === own ? own : undefined, { kind: 'line', line })
    bin = own
  }
  for (let i = 0; i < blanks; i++) put(i === 0 ? '' : undefined, i === 0 ? undefined : '', { kind: 'blank' })
  return pages
}
