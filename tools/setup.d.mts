/** Bundles the server where a source is newer than what was bundled; gives the file of an entry. */
export function server(entry?: 'main' | 'cli'): string
