import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import type MiniSearch from 'minisearch'
import { exactLetters, searchForms, normaliseCode, ratio, ratioOf, times, type Measure, type Ratio } from '@shelve/core'
import type { CodeMeaning, IndexItem } from '@shelve/contract'
import { get } from './api.ts'
import { oneAtATime } from './asked-once.ts'

const sizeOf = (text: string): Ratio => {
  const [n, d] = text.split('/')
  return d ? times(ratioOf(n!), ratio(1n, BigInt(d))) : ratioOf(n!)
}

/** Every item in memory: a scan and a typed word are answered from here, without the network. */
export const useIndex = defineStore('index', () => {
  const items = shallowRef<IndexItem[]>([])
  const search = shallowRef<MiniSearch<IndexItem> | null>(null)
  const byId = computed(() => new Map(items.value.map(i => [i.id, i])))
  const byCode = computed(() => {
    const m = new Map<string, { item: IndexItem; pack: string | null }>()
    for (const item of items.value) {
      m.set(normaliseCode(item.code), { item, pack: null })
      for (const c of item.codes) m.set(c.code, { item, pack: c.pack })
    }
    return m
  })

  /** Settled once the items are there, or could not be fetched: a scan that comes while the page loads waits for it. */
  const there = ref(false)
  let came: () => void = () => undefined
  const ready = new Promise<void>(ok => {
    came = ok
  })
  /** The same for what is found by words. */
  let words: () => void = () => undefined
  const searchable = new Promise<void>(ok => {
    words = ok
  })
  const load = oneAtATime(async () => {
    try {
      await loadItems()
    } finally {
      words()
    }
  })
  async function loadItems(): Promise<void> {
    try {
      items.value = (await get<{ items: IndexItem[] }>('/api/index')).items
    } finally {
      there.value = true
      came()
    }
    const rows = items.value
    const { default: Mini } = await import('minisearch')
    const m = new Mini<IndexItem>({
      fields: ['name', 'code', 'category'],
      idField: 'id',
      processTerm: searchForms,
      searchOptions: {
        processTerm: exactLetters,
        prefix: true,
        fuzzy: w => (w.length > 3 ? 0.2 : false),
        boost: { code: 3, name: 2 },
        combineWith: 'AND',
      },
    })
    m.addAll(rows)
    search.value = m
  }
  /** Whether items can be found by words yet. */
  const seeks = computed(() => search.value !== null)
  /** The likeliest items for some words, best first. */
  function find(words: string, most = 8): IndexItem[] {
    const w = words.trim()
    if (!w) return []
    const exact = byCode.value.get(normaliseCode(w))
    const found = (search.value?.search(w) ?? []).map(r => byId.value.get(r.id as string)!).filter(Boolean)
    return [...new Set([...(exact ? [exact.item] : []), ...found])].slice(0, most)
  }
  /** What a code means: at once where the device knows it, else from the server. */
  async function meaning(code: string, signal?: AbortSignal): Promise<CodeMeaning> {
    await ready
    const known = byCode.value.get(normaliseCode(code))
    if (known)
      return {
        code,
        kind: known.pack ? 'pack' : 'item',
        item: known.item.id,
        pack: known.pack,
        lot: null,
        place: null,
        slip: null,
        sheet: null,
        command: null,
        party: null,
        quantity: null,
        why: null,
      }
    return get<CodeMeaning>(`/api/codes/${encodeURIComponent(code)}`, signal)
  }
  const measure = (item: IndexItem): Measure => ({
    base: item.unit,
    decimals: item.decimals,
    packs: item.packs.map(p => ({ name: p.name, size: sizeOf(p.size) })),
    ...(item.density ? { density: sizeOf(item.density) } : {}),
  })
  /** The pack that one opens: the least that is one of the base unit or more; null where it comes in none. */
  const container = (item: IndexItem | undefined): string | null =>
    (item ? measure(item).packs : [])
      .filter(p => p.size.n >= p.size.d)
      .sort((a, b) => (a.size.n * b.size.d < b.size.n * a.size.d ? -1 : 1))[0]?.name ?? null
  return { items, byId, there, ready, load, searchable, seeks, find, meaning, measure, container }
})
