import { beginsWith, exactLetters, foundBy, searchForms } from '@shelve/core'
import type { Found, IndexItem, Place } from '@shelve/contract'
import type { RouteLocationRaw } from 'vue-router'

/** Something that was found for the words in the scan strip, and where choosing it leads. */
export interface Hit {
  readonly key: string
  readonly name: string
  readonly note: string
  readonly mono: boolean
  readonly item?: IndexItem
  readonly place?: Place
  readonly to?: RouteLocationRaw
}

export const hitOfItem = (i: IndexItem): Hit => ({ key: `i${i.id}`, name: i.name, note: i.code, mono: true, item: i })
export const hitOfPlace = (p: Place): Hit => ({
  key: `p${p.id}`,
  name: p.path,
  note: {
    premises: 'premises',
    area: 'area',
    bin: 'bin',
    held: 'held goods',
    transit: 'on the way',
    with_job: 'with a job',
  }[p.kind],
  mono: false,
  place: p,
})
/** Places whose name holds all the words, those that begin with them first. */
export function findPlaces(places: readonly Place[], words: string, most = 3): Place[] {
  const all = exactLetters(words).split(/\s+/).filter(Boolean)
  if (!all.length) return []
  const fits = places.filter(p => p.active && p.mine && all.every(w => foundBy(p.path).includes(w)))
  return fits
    .sort(
      (a, b) =>
        Number(beginsWith(b.name, all[0]!)) - Number(beginsWith(a.name, all[0]!)) || a.path.length - b.path.length,
    )
    .slice(0, most)
}
/** The one of some names that somebody may have meant who typed another; undefined where it is one of them, or nothing comes near. */
export async function meantName(names: readonly string[], typed: string): Promise<string | undefined> {
  const words = typed.trim()
  if (words.length < 3 || names.some(n => exactLetters(n) === exactLetters(words))) return undefined
  const { default: Mini } = await import('minisearch')
  const all = new Mini<{ id: number; name: string }>({
    fields: ['name'],
    processTerm: searchForms,
    searchOptions: {
      processTerm: exactLetters,
      fuzzy: w => (w.length > 3 ? 0.34 : false),
      prefix: true,
      combineWith: 'AND',
    },
  })
  all.addAll(names.map((name, id) => ({ id, name })))
  const best = all.search(words)[0] ?? all.search(words, { combineWith: 'OR' })[0]
  return best && names[best.id as number]
}
export function hitOfFound(x: Found): Hit {
  const to: RouteLocationRaw =
    x.kind === 'slip'
      ? { name: 'slip', params: { id: x.id } }
      : x.kind === 'plan'
        ? { name: 'job', params: { id: x.id } }
        : x.kind === 'lot'
          ? { name: 'lot', params: { id: x.id } }
          : x.kind === 'person'
            ? { name: 'ledger', query: { q: x.name } }
            : { name: 'ledger', query: { party: x.kind, partyId: x.id, about: x.name } }
  return { key: `${x.kind}${x.id}`, name: x.name, note: x.note, mono: x.kind === 'slip' || x.kind === 'lot', to }
}
