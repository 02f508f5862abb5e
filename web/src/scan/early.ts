declare global {
  /** Noted by `public/early.js`, which a page loads first of all. */
  var early: KeyboardEvent[] | undefined
  var noteEarly: ((key: KeyboardEvent) => void) | undefined
}

/**
 * The keys that were pressed before Shelve ran in the page, in their order; they are noted no longer, and given once. What notes
 * them may come last of all: it finds its name taken then, and notes nothing.
 */
export function takeEarly(): readonly KeyboardEvent[] {
  if (globalThis.noteEarly) removeEventListener('keydown', globalThis.noteEarly, true)
  const keys = globalThis.early ?? []
  globalThis.early = globalThis.noteEarly = undefined
  return keys
}
