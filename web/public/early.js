// Notes what is pressed before the rest of Shelve runs in the page, so that a scan is not lost then; `scan/early.ts` takes it.
if (!('noteEarly' in globalThis)) {
  globalThis.early = []
  globalThis.noteEarly = key => globalThis.early.push(key)
  addEventListener('keydown', globalThis.noteEarly, true)

  // Where the rest of it does not come, since the server went away meanwhile, nobody else could say so: `shell/first-view.ts`.
  const again = () =>
    fetch('/api/health').then(
      answer => (answer.ok ? location.reload() : setTimeout(again, 2000)),
      () => setTimeout(again, 2000),
    )
  addEventListener(
    'error',
    ({ target }) => {
      const app = document.getElementById('app')
      if (!(target instanceof HTMLScriptElement) || target.type !== 'module' || !app || app.childElementCount) return
      app.textContent = 'The server cannot be reached. Shelve opens by itself as soon as it answers.'
      setTimeout(again, 2000)
    },
    true,
  )
}
