<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Category, Item } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { usePages } from '../shell/pages.ts'
import { useChoices } from '../shell/reading.ts'
import { useSession } from '../shell/session.ts'
import SetupTabs from '../places/SetupTabs.vue'
import { useTakers } from '../scan/takers.ts'
import SaveAs from '../ui/SaveAs.vue'
import NextPage from '../ui/NextPage.vue'

const session = useSession()
const route = useRoute()
const router = useRouter()
const { choices: categories } = useChoices<Category>('/api/categories')
const filter = (k: string) =>
  computed({
    get: () => (typeof route.query[k] === 'string' ? route.query[k] : ''),
    set: v => void router.replace({ query: { ...route.query, [k]: v || undefined } }),
  })
const q = filter('q')
const category = filter('category')
const active = filter('active')
const path = (cursor?: string) =>
  `/api/items${query({ q: q.value, category: category.value, active: active.value, sort: 'name', cursor, limit: 60 })}`
const { rows, first, next, more, loaded } = usePages<Item, { rows: Item[]; next: string | null; total: number }>(
  path,
  e => e.kind === 'setup',
)
const total = computed(() => first.value?.total ?? 0)
const IDENTIFIED = { quantity: 'quantity', lot: 'lot', lot_expiry: 'lot and expiry', serial: 'serial number' }
const scanned = useTakers().filter(words => {
  q.value = words
})
</script>
<template>
  <SetupTabs />
  <div class="slip">
    <div class="px-5 pt-4 pb-3 flex flex-wrap gap-3 justify-between items-end">
      <div class="min-w-28">
        <h1>Items</h1>
        <p class="soft min-h-[1lh]">
          <template v-if="loaded">{{ total }} in all</template>
        </p>
      </div>
      <div class="flex flex-wrap gap-2">
        <input
          v-model.lazy="q"
          v-code="scanned"
          class="field field-small w-44!"
          placeholder="Name, code or barcode"
          aria-label="Filter items"
        /><select v-model="category" class="field field-small w-40!" aria-label="Category">
          <option value="">every category</option>
          <option v-for="c in categories" :key="c.id" :value="c.id">{{ c.name }}</option></select
        ><select v-model="active" class="field field-small w-28!" aria-label="In use or retired">
          <option value="">in use</option>
          <option value="no">retired</option>
          <option value="all">all</option>
          <option value="found">to be completed</option></select
        ><SaveAs :path="path()" name="items" /><RouterLink
          v-if="session.maySetUp"
          class="btn btn-small"
          :to="{ name: 'items-brought' }"
          >From a spreadsheet</RouterLink
        ><RouterLink v-if="session.maySetUp" class="btn btn-small btn-act" :to="{ name: 'item-new' }"
          >New item</RouterLink
        >
      </div>
    </div>
    <div v-if="rows.length" class="overflow-x-auto">
      <table class="list edge">
        <thead>
          <tr>
            <th>Item</th>
            <th>Code</th>
            <th>Category</th>
            <th>Unit</th>
            <th>Packs</th>
            <th>Identified by</th>
            <th>Barcodes</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="i in rows"
            :key="i.id"
            class="link"
            @click="router.push({ name: session.maySetUp ? 'item-edit' : 'item', params: { id: i.id } })"
          >
            <td class="wrap-anywhere min-w-28">
              <RouterLink
                class="font-medium"
                :to="{ name: session.maySetUp ? 'item-edit' : 'item', params: { id: i.id } }"
                >{{ i.name }}</RouterLink
              >
            </td>
            <td class="mono wrap-anywhere min-w-24">{{ i.code }}</td>
            <td class="wrap-anywhere min-w-24">{{ i.category?.name ?? '' }}</td>
            <td>{{ i.unit }}</td>
            <td>{{ i.packs.map(p => `${p.name} of ${p.size}`).join(', ') }}</td>
            <td>{{ IDENTIFIED[i.identifiedBy] }}</td>
            <td class="mono soft">{{ i.codes.length + i.packs.reduce((s, p) => s + p.codes.length, 0) || '' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else-if="loaded" class="px-5 pb-6 soft">
      {{
        q || category || active
          ? 'No item fits this filter.'
          : 'No item yet. A code, a name and what it is counted in are enough for the first one.'
      }}
    </p>
    <NextPage v-if="next" class="m-4" label="More" @more="more" />
  </div>
</template>
