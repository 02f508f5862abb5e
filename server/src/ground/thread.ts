/**
 * Where the code of a thread lies, or of a process beside the server: beside the sources in `threads/`, and beside the bundle that was made of them. A
 * thread may need the whole house, so its entry stands at the top; whoever starts it stands below and knows its name only.
 */
export const threadNamed = (name: 'backup' | 'describe' | 'verify' | 'writer'): URL =>
  new URL(import.meta.url.endsWith('.ts') ? `../threads/${name}-worker.mjs` : `./${name}-worker.mjs`, import.meta.url)
