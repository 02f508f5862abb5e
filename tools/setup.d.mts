/** Bundles the server where a source is newer than what was bundled; gives the file of an entry. */
export function server(entry?: 'main' | 'cli'): string
/** How the server is run: flags of Node and what stands in its environment. */
export const serving: { readonly flags: readonly string[]; readonly env: Readonly<Record<string, string>> }
