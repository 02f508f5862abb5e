<script setup lang="ts">
/** Every lot of which something lies: found by item or number, by state and place, the first to run out first. */
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { LotRow } from '@shelve/contract'
import { query } from '../shell/api.ts'
import { usePages } from '../shell/pages.ts'
import { useSession } from '../shell/session.ts'
import SaveAs from '../ui/SaveAs.vue'
import { useFormat } from '../ui/format.ts'
import NextPage from '../ui/NextPage.vue'

const session = useSession()
const route = useRoute()
const router = useRouter()
const f = useFormat()
const filter = (k: string, usual = '') =>
  computed({
    get: () => (typeof route.query[k] === 'string' ? route.query[k] : usual),
    set: v => void router.replace({ query: { ...route.query, [k]: v === usual ? undefined : v } }),
  })
const q = filter('q')
const state = filter('state')
const opened = filter('opened')
const sort = filter('sort', 'expiry')
const asked = (cursor?: string) =>
  `/api/lots${query({ place: session.placeId, q: q.value, state: state.value, opened: opened.value, sort: sort.value, cursor, limit: 100 })}`
const { rows, next, first, more, loaded } = usePages<LotRow, { rows: LotRow[]; next: string | null; total: number }>(
  asked,
)
const total = computed(() => first.value?.total ?? 0)
const places = computed(() => f.placesOf(rows.value.map(r => r.quantity)))
const STATES = { usable: 'usable', held: 'held', expired: 'out of date', recalled: 'recalled' } as const
const SORTS = { expiry: 'first to run out', item: 'by item', received: 'last received', code: 'by number' } as const
</script>
<template>
  <section class="slip pb-3">
    <div class="view-head">
      <div>
        <h1>Lots{{ session.place ? ` in ${session.place.name}` : '' }}</h1>
        <p class="soft">
          <template v-if="loaded"
            >{{ f.number(String(total)) }} of which something lies ·
            <RouterLink class="go touch" :to="{ name: 'stock' }">by item</RouterLink></template
          ><template v-else>&nbsp;</template>
        </p>
      </div>
      <div class="flex flex-wrap gap-2">
        <input
          v-model.lazy="q"
          class="field field-small w-44!"
          placeholder="Item or number"
          aria-label="Item or number"
          @keydown.enter="q = ($event.target as HTMLInputElement).value"
        /><select v-model="opened" class="field field-small w-36!" aria-label="Opened or not">
          <option value="">opened or not</option>
          <option value="true">opened</option></select
        ><select v-model="state" class="field field-small w-36!" aria-label="State">
          <option value="">every state</option>
          <option v-for="(l, k) in STATES" :key="k" :value="k">{{ l }}</option></select
        ><select v-model="sort" class="field field-small w-40!" aria-label="In which order">
          <option v-for="(l, k) in SORTS" :key="k" :value="k">{{ l }}</option></select
        ><SaveAs :path="asked()" name="lots" :disabled="!rows.length" />
      </div>
    </div>
    <div v-if="rows.length" class="overflow-x-auto">
      <table class="list edge" aria-label="Lots">
        <thead>
          <tr>
            <th>Lot</th>
            <th>Item</th>
            <th>Use by</th>
            <th v-if="opened">Last used</th>
            <th>State</th>
            <th class="text-right!">Lies</th>
            <th><span class="sr-only">Unit</span></th>
            <th>Where</th>
            <th v-if="session.seeValue" class="text-right!">Value</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.id">
            <td class="wrap-anywhere min-w-26">
              <RouterLink class="go mono whitespace-normal!" :to="{ name: 'lot', params: { id: r.id } }">{{
                r.code
              }}</RouterLink>
              <span v-if="r.opened" class="soft text-[12px] block whitespace-nowrap"
                >opened {{ f.when(r.opened) }}</span
              >
            </td>
            <td class="wrap-anywhere min-w-32">
              <RouterLink class="font-medium" :to="{ name: 'item', params: { id: r.item.id } }">{{
                r.item.name
              }}</RouterLink>
              <span class="mono soft text-[12px] block">{{ r.item.code }}</span>
            </td>
            <td class="whitespace-nowrap">
              {{ r.expiry ? f.date(r.expiry) : '—' }}
              <span v-if="r.expiry" class="soft text-[12px] block">{{ f.far(r.expiry) }}</span>
            </td>
            <td v-if="opened" class="text-[13px] wrap-anywhere min-w-24">
              <template v-if="r.lastUsed"
                >{{ r.lastUsed.by }}
                <span class="soft text-[12px] block">{{ f.when(r.lastUsed.at) }}, {{ r.lastUsed.what }}</span></template
              ><span v-else class="soft">not yet</span>
            </td>
            <td :class="r.state === 'usable' ? 'soft' : 'text-straw font-medium'">{{ STATES[r.state] }}</td>
            <td class="num">{{ f.aligned(r.quantity, places) }}</td>
            <td class="soft unit">{{ r.item.unit }}</td>
            <td class="text-[13px] wrap-anywhere min-w-26">
              <div v-for="p in r.places" :key="p.id">
                {{ p.name }}<span v-if="r.places.length > 1" class="mono soft ml-2">{{ f.number(p.quantity) }}</span>
              </div>
            </td>
            <td v-if="session.seeValue" class="num">{{ r.value === undefined ? '' : f.money(r.value) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else-if="loaded" class="px-5 pb-3 soft">No lot here is like that.</p>
    <NextPage v-if="next" class="px-5 pt-3" label="More" @more="more" />
  </section>
</template>
