<script setup lang="ts">
/** What lies in a place or everywhere: levels down the column, filtered and sorted by the server, the filter in the address. */
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Category, StockRow } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { usePages } from '../shell/pages.ts'
import { useIndex } from '../shell/index-store.ts'
import { useChoices } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import { middling, narrow } from '../shell/width.ts'
import { useTakers } from '../scan/takers.ts'
import FigureOf from '../ui/FigureOf.vue'
import ListTools from '../ui/ListTools.vue'
import SaveAs from '../ui/SaveAs.vue'
import { useList } from '../ui/lists.ts'
import { useFormat } from '../ui/format.ts'
import { useOnPaper } from '../ui/on-paper.ts'
import StockLine from './StockLine.vue'

const session = useSession()
const index = useIndex()
const route = useRoute()
const router = useRouter()
const f = useFormat()
const { choices: categories } = useChoices<Category>('/api/categories')
if (typeof route.query.place === 'string') session.placeId = route.query.place

const set = (q: Record<string, string | undefined>) => router.replace({ query: { ...route.query, ...q } })
const filter = (k: string) =>
  computed({
    get: () => (typeof route.query[k] === 'string' ? route.query[k] : ''),
    set: v => void set({ [k]: v || undefined }),
  })
const q = filter('q')
const state = filter('state')
const category = filter('category')
const sort = computed(() => (typeof route.query.sort === 'string' ? route.query.sort : 'name'))
const by = (column: string) => set({ sort: sort.value === column ? `-${column}` : column })
const path = (cursor?: string) =>
  `/api/stock${query({ place: session.placeId, q: q.value, state: state.value, category: category.value, sort: sort.value, cursor, limit: 200 })}`
const { rows, first, next, more, loaded } = usePages<
  StockRow,
  { rows: StockRow[]; next: string | null; total: number; value?: string }
>(path)
const total = computed(() => first.value?.total ?? 0)
const worth = computed(() => first.value?.value)

const box = ref<HTMLElement | null>(null)
const coarse = matchMedia('(pointer: coarse)').matches
const virtual = useVirtualizer(
  computed(() => ({
    count: rows.value.length,
    getScrollElement: () => box.value,
    estimateSize: () => (coarse ? 56 : 44),
    overscan: 2,
  })),
)
/** Rows that leave the screen come in again as others: what is drawn is filled anew instead of being made anew. */
let pool = 0
const slot = (i: number): number => {
  pool = Math.max(pool, virtual.value.getVirtualItems().length + 1)
  return i % pool
}
watch(
  () => virtual.value.getVirtualItems().at(-1)?.index,
  i => {
    if (i !== undefined && i > rows.value.length - 20) void more()
  },
)
const onPaper = useOnPaper()
/** The lines that are drawn: on a screen those in sight, on paper all that were read. */
const drawn = computed(() =>
  onPaper.value
    ? rows.value.map((_, i) => ({ at: i, key: i, style: {} }))
    : virtual.value.getVirtualItems().map(v => ({
        at: v.index,
        key: slot(v.index),
        style: { transform: `translateY(${v.start}px)`, height: `${v.size}px` },
      })),
)
const places = computed(() => f.placesOf(rows.value.map(r => r.levels.available)))
const handPlaces = computed(() => f.placesOf(rows.value.map(r => r.levels.onHand)))
const COLUMNS = [
  { id: 'name', label: 'Item' },
  { id: 'state', label: 'Level and state' },
  { id: 'onHand', label: 'On hand', num: true },
  { id: 'available', label: 'Available', num: true },
  { id: 'days', label: 'Lasts', num: true },
  { id: 'firstExpiry', label: 'First expiry' },
  { id: 'value', label: 'Value', num: true },
] as const
const list = useList(
  'stock',
  COLUMNS.map(c => c.id),
)
/** The item’s name stays; of the others those that somebody wants to see. */
const may = computed(() => COLUMNS.filter(c => c.id !== 'value' || session.seeValue))
const shown = computed(() => may.value.filter(c => c.id === 'name' || list.shows.value.has(c.id)))
const ids = computed<ReadonlySet<string>>(() => new Set(shown.value.map(c => c.id)))
/** At a desk, on a tablet that lies on its side, and on an upright one or on paper: all of them fit there too. */
const WIDTHS: Record<string, [string, string, string]> = {
  name: ['minmax(180px, 1.7fr)', 'minmax(116px, 1.7fr)', 'minmax(110px, 1.7fr)'],
  state: ['minmax(220px, 1.5fr)', 'minmax(208px, 1fr)', '124px'],
  onHand: ['90px', '66px', '64px'],
  // With its unit, in a column of its own.
  available: ['84px 58px', '68px 44px', '66px 42px'],
  days: ['64px', '50px', '50px'],
  firstExpiry: ['110px', '100px', '90px'],
  value: ['100px', '84px', '72px'],
}
const upright = computed(() => narrow.value || onPaper.value)
const grid = computed(() => ({
  gridTemplateColumns: shown.value.map(c => WIDTHS[c.id]![upright.value ? 2 : middling.value ? 1 : 0]).join(' '),
}))
const order = (id: string) => (sort.value === id ? 'ascending' : sort.value === `-${id}` ? 'descending' : undefined)
const scanned = useTakers().filter(words => {
  q.value = words
})
</script>
<template>
  <div class="slip" :class="{ fills: rows.length }">
    <div class="view-head">
      <div>
        <h1>What lies {{ session.place ? `in ${session.place.name}` : 'in all my places' }}</h1>
        <p class="soft min-h-[1lh]">
          <template v-if="loaded"
            >{{ total }} item{{ total === 1 ? '' : 's'
            }}<template v-if="worth"
              >, worth <b v-if="q || state || category" class="mono text-ink">{{ f.amount(worth) }}</b><FigureOf
                v-else
                figure="stock-value"
                :place="session.placeId"
                label="Value of what lies here"
                ><b class="mono text-ink">{{ f.amount(worth) }}</b></FigureOf
              ></template
            >
            · <RouterLink class="go touch" :to="{ name: 'lots' }">by lot</RouterLink></template
          >
        </p>
      </div>
      <div class="flex flex-wrap gap-2 items-center">
        <input
          v-model.lazy="q"
          v-code="scanned"
          class="field field-small w-40!"
          placeholder="Name or code"
          aria-label="Filter by name or code"
          @keyup.enter="($event.target as HTMLInputElement).blur()"
        />
        <select v-model="state" class="field field-small w-36!" aria-label="Filter by state">
          <option value="">every state</option>
          <option value="out">Out</option>
          <option value="short">Short</option>
          <option value="in_range">In range</option>
          <option value="over">Over target</option>
        </select>
        <select v-model="category" class="field field-small w-40!" aria-label="Filter by category">
          <option value="">every category</option>
          <option v-for="c in categories" :key="c.id" :value="c.id">{{ c.name }}</option>
        </select>
        <ListTools :list="list" :columns="may.filter(c => c.id !== 'name')" />
        <SaveAs :path="path()" name="stock" />
      </div>
    </div>
    <div v-if="rows.length" ref="box" class="box" tabindex="0" aria-label="Stock list">
      <div role="table" :aria-rowcount="total" class="table">
        <div role="row" class="tr th" :style="grid">
          <template v-for="c in shown" :key="c.id"
            ><div role="columnheader" :aria-sort="order(c.id)" :class="{ num: 'num' in c }">
              <button type="button" class="sort" @click="by(c.id)">
                {{ c.label
                }}<span aria-hidden="true">{{
                  order(c.id) === 'ascending' ? ' ↑' : order(c.id) === 'descending' ? ' ↓' : ''
                }}</span>
              </button>
            </div>
            <div v-if="c.id === 'available'" role="columnheader"><span class="sr-only">Unit</span></div></template
          >
        </div>
        <div role="presentation" class="relative" :style="{ height: onPaper ? 'auto' : virtual.getTotalSize() + 'px' }">
          <div
            v-for="d in drawn"
            :key="d.key"
            role="row"
            class="tr td"
            :style="{ ...d.style, ...grid }"
            @click="router.push({ name: 'item', params: { id: rows[d.at]!.item } })"
          >
            <StockLine
              :row="rows[d.at]!"
              :place="session.placeId"
              :columns="ids"
              :hand-places="handPlaces"
              :places="places"
              :upright="upright"
            />
          </div>
        </div>
      </div>
      <p v-if="next" class="on-paper px-5 py-2">
        {{ rows.length }} of {{ total }} lines: those the screen had read. <i>Save list as PDF</i> has all of them.
      </p>
    </div>
    <p v-else-if="loaded" class="px-5 pb-6 soft">
      <template v-if="q || state || category"
        >Nothing fits this filter.
        <button type="button" class="btn btn-small" @click="router.replace({ query: {} })">Show all</button></template
      >
      <template v-else-if="!index.items.length"
        >There is no item yet.
        <RouterLink class="btn btn-small" :to="{ name: 'item-new' }">Make the first item</RouterLink></template
      >
      <template v-else
        >Nothing lies here yet.
        <RouterLink class="btn btn-small" :to="{ name: 'receive' }">Receive a delivery</RouterLink></template
      >
    </p>
  </div>
</template>
<style scoped>
/* The list takes what its head leaves of the window: it alone is scrolled, and not the page too. */
.fills {
  display: flex;
  flex-direction: column;
  height: calc(100vh - 103px);
  min-height: 480px;
}
.box {
  flex: 1;
  min-height: 0;
  overflow: auto;
  /* A row that has the focus is not under the heads. */
  scroll-padding-top: 44px;
  border-top: 1px solid var(--hair);
}
.table {
  min-width: 880px;
  width: 100%;
}
.tr {
  display: grid;
  gap: 14px;
  align-items: center;
  padding: 0 20px;
}
@media (max-width: 1219px) {
  .table {
    min-width: 832px;
  }
  .tr {
    gap: 8px;
  }
}
@media (max-width: 1023px) {
  .table {
    min-width: 700px;
  }
  .tr {
    padding: 0 12px;
  }
}
.th {
  position: sticky;
  top: 0;
  z-index: 3;
  background: var(--sheet);
  border-bottom: 1px solid var(--hair);
  min-height: 34px;
  font-size: 13px;
}
.td {
  position: absolute;
  left: 0;
  right: 0;
  border-bottom: 1px solid var(--hair);
  font-size: 13px;
  cursor: pointer;
}
.td:hover {
  background: var(--frost);
}
.num {
  text-align: right;
  font-family: var(--font-mono);
  white-space: pre;
}
.sort {
  color: var(--soft);
  font-weight: 550;
  cursor: pointer;
  font-family: var(--font-sans);
}
.sort:hover {
  color: var(--kelp);
}
@media (pointer: coarse) {
  .sort {
    min-height: 48px;
  }
}
@media (max-width: 1023px) {
  .fills {
    height: calc(100vh - 271px);
  }
}
@media print {
  .fills {
    display: block;
    height: auto;
  }
  .box {
    overflow: visible;
  }
  /* As wide as the paper: what a browser makes smaller it cuts into too few pages. */
  .table {
    min-width: 0;
  }
  .tr {
    gap: 8px;
    padding: 0 8px;
  }
  .td {
    position: static;
    break-inside: avoid;
    padding-block: 4px;
  }
  .th {
    position: static;
  }
}
</style>
