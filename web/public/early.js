// Notes what is pressed before the rest of Shelve runs in the page, so that a scan is not lost then; `scan/early.ts` takes it.
if (!('noteEarly' in globalThis)) {
  globalThis.early = []
  globalThis.noteEarly = key => globalThis.early.push(key)
  addEventListener('keydown', globalThis.noteEarly, true)
}
